import type { LiveFace } from '@umbek/protocol';
import { type LampKind, lampWords, pictureWords, secondLine } from '@umbek/look';
import type { PressState } from '../live/pressBook';

/** What a cap says of itself, as written. */
export interface WrittenCap {
  readonly legend: string;
  readonly note: string;
  /** In place of the button's own second line. */
  readonly lastly: string | undefined;
  /** It answers to the finger's whole stay. */
  readonly hold: boolean;
}

export interface CapWords {
  readonly legend: string;
  readonly second: string;
  /** All of it, for those who do not see it. */
  readonly label: string;
  readonly lamp: LampKind;
  /** The second line tells of the press itself: why it failed, or what it asks. */
  readonly telling: boolean;
}

/** The press's own answer goes before the lamp rules, for as long as it is shown. */
export function lampOf(press: Pick<PressState, 'phase'> | undefined, sign: string | null | undefined): LampKind {
  if (press?.phase === 'sent' || press?.phase === 'working') return 'working';
  if (press?.phase === 'failed') return 'failed';
  if (press?.phase === 'asking') return 'armed';
  if (sign) return sign as LampKind;
  return press?.phase === 'done' ? 'done' : null;
}

/** What a cap says as things are. @param away there is no contact: nobody knows what is on, and no lamp says so */
export function capWords(
  { legend, note, lastly, hold }: WrittenCap,
  face: LiveFace | undefined,
  press: PressState | undefined,
  away: boolean,
): CapWords {
  const lamp = away ? null : lampOf(press, face?.sign);
  const telling = press?.phase === 'failed' || press?.phase === 'asking';
  const second =
    (telling
      ? (press.short ?? press.why)
      : away
        ? 'no contact'
        : face?.lost
          ? 'no answer'
          : face?.picture !== undefined
            ? pictureWords[face.picture]
            : face?.asSent
              ? 'as last sent'
              : (lastly ?? secondLine(lamp, note, face?.note))) ?? '';
  // An alternating button says what its next press does.
  // Live text is only known once the engine has told it.
  const written = face?.legend ?? (legend.includes('{{') ? legend.replace(/\{\{.*?\}\}/gs, '–') : legend);
  const says = written === '' ? 'Button without legend' : written;
  const label = [says, second, lamp === null ? '' : lampWords[lamp], hold ? 'hold' : ''].filter(Boolean).join(', ');
  return { legend: written, second, label, lamp, telling };
}
