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
  const items = buttons.map((button) => ({
    key: button.id,
    // A drag needs a way to go.
    broad: button.dial?.by === 0,
    tall: button.picture !== '' && button.dial === null,
    node: (
      <CapOf button={button} family={strip.family} width={width} {...(document === undefined ? {} : { document })} />
    ),
  }));
  return <StripFrame strip={strip} columns={columns} items={items} places={places} />;
});

/** The cap of a button, whatever it does. */
export function CapOf({
  button: { id, dial, icon, legend: long, short, family: own, note, mode, there, picture },
  family: ofStrip,
  width,
  document,
}: {
  readonly button: Button;
  readonly family: StripData['family'];
  /** CSS pixels. */
  readonly width: number;
  readonly document?: ShowDocument;
}) {
  const legend = legendFor(long, short, width);
  const family = own ?? ofStrip;
  if (dial !== null && dial.by === 0)
    return <DialCap buttonId={id} legend={legend} icon={icon} family={family} dial={dial} />;
  if (dial !== null) return <StepCap buttonId={id} legend={legend} icon={icon} family={family} dial={dial} />;
  return (
    <Cap
      buttonId={id}
      legend={legend}
      icon={icon}
      note={note.includes('{{') ? '' : note}
      family={family}
      hold={mode === 'hold'}
      follows={there !== ''}
      {...(picture === '' || document === undefined ? {} : { picture, document })}
    />
  );
}
