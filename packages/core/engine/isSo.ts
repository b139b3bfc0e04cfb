/** What a lamp or a legend asks whether what its own button does is so already. A device of that key goes before it. */
export const IS_SO = 'button.isSo';
