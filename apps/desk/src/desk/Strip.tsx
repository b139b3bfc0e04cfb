import type { Button, Strip as StripData } from '@umbek/core/show';
import { memo } from 'react';
import { StripFrame } from '../caps/StripFrame';
import { useStripShown } from '../live/LiveContext';
import { Cap } from './Cap';

/** A strip to operate. */
export const Strip = memo(function Strip({
  strip,
  buttons,
  columns,
}: {
  readonly strip: StripData;
  readonly buttons: readonly Button[];
  readonly columns: number;
}) {
  useStripShown(strip.id);
  const items = buttons.map((button) => ({
    key: button.id,
    node: (
      <Cap
        buttonId={button.id}
        legend={button.legend}
        note={button.note.includes('{{') ? '' : button.note}
        family={button.family ?? strip.family}
        hold={button.mode === 'hold'}
      />
    ),
  }));
  return <StripFrame strip={strip} columns={columns} items={items} />;
});
