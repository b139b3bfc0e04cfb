import Svg, { Path } from 'react-native-svg';
import { ICON_PATHS } from './iconPaths';
import { colour } from './tokens';

export type IconName = keyof typeof ICON_PATHS;

const isIcon = (name: unknown): name is IconName => typeof name === 'string' && Object.hasOwn(ICON_PATHS, name);

/** Paper's icons, drawn. What they stand for is said by the control that holds them, so they are left out of what is read aloud. */
export const Icon = ({
  name,
  color = colour.text,
  size,
}: {
  readonly name: unknown;
  readonly color?: string | undefined;
  readonly size: number;
}) => (
  <Svg width={size} height={size} viewBox="0 0 24 24" aria-hidden>
    {isIcon(name) ? <Path d={ICON_PATHS[name]} fill={color} /> : null}
  </Svg>
);
