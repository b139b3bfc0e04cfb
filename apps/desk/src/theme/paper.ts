import { configureFonts, MD3DarkTheme } from 'react-native-paper';
import { colour, font } from './tokens';

/** Paper in the colours and the type of the look. */
export const paperTheme = {
  ...MD3DarkTheme,
  roundness: 2,
  fonts: configureFonts({ config: { fontFamily: font.regular } }),
  colors: {
    ...MD3DarkTheme.colors,
    background: colour.ground,
    surface: colour.plate,
    surfaceVariant: colour.raised,
    onSurface: colour.text,
    onSurfaceVariant: colour.muted,
    onBackground: colour.text,
    primary: colour.cap,
    onPrimary: colour.legend,
    secondaryContainer: '#36595A',
    onSecondaryContainer: colour.text,
    outline: colour.hairline,
    error: colour.onAir,
    elevation: { ...MD3DarkTheme.colors.elevation, level1: colour.plate, level2: colour.raised, level3: colour.raised },
  },
};
