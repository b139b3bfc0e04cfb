import MaterialCommunityIcons from '@expo/vector-icons/MaterialCommunityIcons';
import type { ComponentProps } from 'react';

type Name = ComponentProps<typeof MaterialCommunityIcons>['name'];

/** Paper's icons. What they stand for is said by the control that holds them, so they are left out of what is read aloud. */
export const Icon = ({
  name,
  color,
  size,
}: {
  readonly name: unknown;
  readonly color?: string | undefined;
  readonly size: number;
}) => (
  <MaterialCommunityIcons
    name={name as Name}
    size={size}
    aria-hidden
    selectable={false}
    {...(color === undefined ? {} : { color })}
  />
);
