import { configureFonts, DefaultTheme } from 'react-native-paper';
import { colour, font } from './tokens';

/** What can be chosen and is: between the plate and the cap. */
const CHOSEN = '#36595A';
/** The colour of words, thinned. */
const words = (share: number): string =>
  `rgba(${[1, 3, 5].map((at) => parseInt(colour.text.slice(at, at + 2), 16)).join(', ')}, ${share})`;

/** Paper in the colours and the type of the look: every colour is named, so that none of its own comes through. */
export const paperTheme = {
  ...DefaultTheme,
  dark: true,
  mode: 'adaptive' as const,
  roundness: 2,
  fonts: configureFonts({ config: { fontFamily: font.regular } }),
  colors: {
    ...DefaultTheme.colors,
    background: colour.ground,
    onBackground: colour.text,
    surface: colour.plate,
    surfaceVariant: colour.raised,
    surfaceDisabled: words(0.12),
    onSurface: colour.text,
    onSurfaceVariant: colour.muted,
    onSurfaceDisabled: words(0.38),
    primary: colour.cap,
    onPrimary: colour.legend,
    primaryContainer: CHOSEN,
    onPrimaryContainer: colour.text,
    secondary: colour.muted,
    onSecondary: colour.legend,
    secondaryContainer: CHOSEN,
    onSecondaryContainer: colour.text,
    tertiary: colour.muted,
    onTertiary: colour.legend,
    tertiaryContainer: CHOSEN,
    onTertiaryContainer: colour.text,
    error: colour.onAir,
    onError: colour.text,
    errorContainer: colour.onAir,
    onErrorContainer: colour.text,
    outline: colour.hairline,
    outlineVariant: colour.hairline,
    inverseSurface: colour.cap,
    inverseOnSurface: colour.legend,
    inversePrimary: colour.legend,
    shadow: '#000000',
    scrim: '#000000',
    backdrop: 'rgba(0, 0, 0, 0.5)',
    elevation: {
      level0: 'transparent',
      level1: colour.plate,
      level2: colour.raised,
      level3: colour.raised,
      level4: colour.raised,
      level5: colour.raised,
    },
  },
};
