import type { Button, ShowDocument, Strip as StripData } from '@umbek/core/show';
import { memo } from 'react';
import { StripFrame } from '../caps/StripFrame';
import { useStripShown } from '../live/LiveContext';
import { legendFor } from '../caps/legend';
import { Cap } from './Cap';
import { DialCap, StepCap } from './DialCap';

/** A strip to operate. */
export const Strip = memo(function Strip({
  strip,
  buttons,
  columns,
  places,
  width,
  document,
}: {
  readonly strip: StripData;
  readonly buttons: readonly Button[];
  readonly columns: number;
  /** Room is kept for so many caps. */
  readonly places: number;
  /** Of one cap, CSS pixels. */
  readonly width: number;
  /** Where pictures are looked up; left out where no cap has one. */
  readonly document?: ShowDocument;
}) {
  useStripShown(strip.id);
  const items = buttons.map((button) => {
    const { id, dial, icon } = button;
    const legend = legendFor(button.legend, button.short, width);
    const family = button.family ?? strip.family;
    if (dial !== null && dial.by === 0)
      // A drag needs a way to go.
      return {
        key: id,
        broad: true,
        node: <DialCap buttonId={id} legend={legend} icon={icon} family={family} dial={dial} />,
      };
    if (dial !== null)
      return { key: id, node: <StepCap buttonId={id} legend={legend} icon={icon} family={family} dial={dial} /> };
    return {
      key: id,
      tall: button.picture !== '',
      node: (
        <Cap
          buttonId={id}
          legend={legend}
          icon={icon}
          note={button.note.includes('{{') ? '' : button.note}
          family={family}
          hold={button.mode === 'hold'}
          follows={button.there !== ''}
          {...(button.picture === '' || document === undefined ? {} : { picture: button.picture, document })}
        />
      ),
    };
  });
  return <StripFrame strip={strip} columns={columns} items={items} places={places} />;
});
