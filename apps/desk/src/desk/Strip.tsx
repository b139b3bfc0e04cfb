import type { Button, Strip as StripData } from '@umbek/core/show';
import { memo } from 'react';
import { StripFrame } from '../caps/StripFrame';
import { useStripShown } from '../live/LiveContext';
import { legendFor } from '../caps/legend';
import { Cap } from './Cap';

/** A strip to operate. */
export const Strip = memo(function Strip({
  strip,
  buttons,
  columns,
  places,
  width,
}: {
  readonly strip: StripData;
  readonly buttons: readonly Button[];
  readonly columns: number;
  /** Room is kept for so many caps. */
  readonly places: number;
  /** Of one cap, CSS pixels. */
  readonly width: number;
}) {
  useStripShown(strip.id);
  const items = buttons.map((button) => ({
    key: button.id,
    node: (
      <Cap
        buttonId={button.id}
        legend={legendFor(button.legend, button.short, width)}
        icon={button.icon}
        note={button.note.includes('{{') ? '' : button.note}
        family={button.family ?? strip.family}
        hold={button.mode === 'hold'}
      />
    ),
  }));
  return <StripFrame strip={strip} columns={columns} items={items} places={places} />;
});
