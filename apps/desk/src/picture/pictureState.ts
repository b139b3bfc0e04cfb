import type { ShowDocument, Source } from '@umbek/core/show';
import { usePoint } from '../live/LiveContext';

/** What is told of a picture that is not good. */
const WORDS: Readonly<Record<string, string>> = {
  none: 'no picture',
  black: 'picture is black',
  frozen: 'picture is frozen',
};

/** What the switcher says of the picture of a source, in words; empty while it is good, or nothing is known. */
export function usePictureState(document: ShowDocument, source: Source | undefined): string {
  const switcher = document.devices.find((device) => device.kind === 'switcher')?.key ?? 'switcher';
  return WORDS[String(usePoint(`${switcher}.input${source?.input ?? 0}Picture`))] ?? '';
}
