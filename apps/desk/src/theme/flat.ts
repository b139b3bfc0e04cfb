import { StyleSheet } from 'react-native';

/**
 * `flat`: a box that needs no layer of its own. Every box of React Native for the web is positioned and a stacking context: on a panel of three hundred
 * caps the browser goes through thousands of them to find what a finger is on, before the page hears of the touch. What holds nothing that is
 * placed in it, and lies over nothing, does without. `unstacked`: the same for a box in which something is placed.
 */
export const { flat, unstacked } = StyleSheet.create({
  flat: { position: 'static', zIndex: 'auto' } as object,
  unstacked: { zIndex: 'auto' } as object,
});
