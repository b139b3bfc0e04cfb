import type { LivePoint } from '@umbek/protocol';
import { memo } from 'react';
import { SmallCap } from '../common/SmallCap';
import { usePressTarget } from '../live/usePressTarget';
import { Icon, type IconName } from '../theme/Icon';
import { colour } from '../theme/tokens';

interface HoldCapProps {
  readonly device: string;
  readonly command: string;
  readonly params: Readonly<Record<string, LivePoint>>;
  readonly sign: IconName | 'Hold';
  readonly label: string;
}

/** A small cap that sends a command while it is held, and its end when it is let go. */
export const HoldCap = memo(function HoldCap({ device, command, params, sign, label }: HoldCapProps) {
  const held = usePressTarget((live) => live.downCommand(device, command, params));
  return (
    <SmallCap held={held} label={label}>
      {sign === 'Hold' ? sign : <Icon name={sign} size={24} color={colour.legend} />}
    </SmallCap>
  );
});
