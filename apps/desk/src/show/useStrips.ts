import { inOrder } from '@umbek/core/order';
import type { Button as ButtonData, ShowDocument, Station, Strip as StripData } from '@umbek/core/show';
import { setOf, stripsOn } from '@umbek/core/shown';
import { useMemo } from 'react';

/** The strips of a page of a panel with their buttons, as they stand. @param shift whether the second sets are shown */
export function useStrips(
  document: ShowDocument,
  panelId: string | undefined,
  page: string | null = null,
  shift = false,
  /** Station that shows it: of some panels it shows a part. */
  station?: Station,
): {
  strip: StripData;
  buttons: ButtonData[];
  /** As many as the larger one of its two sets has. */
  places: number;
}[] {
  return useMemo(
    () =>
      inOrder(stripsOn(document, panelId ?? '', page, station)).map((strip) => {
        const all = inOrder(document.buttons.filter((button) => button.stripId === strip.id));
        const [first, second] = [setOf(all, false), setOf(all, true)];
        return { strip, buttons: shift ? second : first, places: Math.max(first.length, second.length) };
      }),
    [document, panelId, page, shift, station],
  );
}
