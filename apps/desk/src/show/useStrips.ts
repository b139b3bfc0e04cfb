import { inOrder } from '@umbek/core/order';
import type { Button as ButtonData, ShowDocument, Strip as StripData } from '@umbek/core/show';
import { useMemo } from 'react';

/** The strips of a panel with their buttons, as they stand. */
export function useStrips(
  document: ShowDocument,
  panelId: string | undefined,
): { strip: StripData; buttons: ButtonData[] }[] {
  return useMemo(
    () =>
      inOrder(document.strips.filter((strip) => strip.panelId === panelId)).map((strip) => ({
        strip,
        buttons: inOrder(document.buttons.filter((button) => button.stripId === strip.id)),
      })),
    [document, panelId],
  );
}
