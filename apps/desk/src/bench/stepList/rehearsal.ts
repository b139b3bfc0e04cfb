import { ask } from '../../show/ask';
import { replyWords } from '../../show/replyWords';
import { rehearsed, type StepOwner } from '../owner';

/** A line of a predicted timeline, milliseconds from the press. */
export interface TimelineEntry {
  readonly kind: string;
  readonly t: number;
  readonly stepId?: string;
  readonly path?: string;
  readonly words?: string;
  readonly device?: string;
  readonly commandId?: string;
  readonly command?: { readonly command: string };
  readonly outcome?: string;
  readonly ok?: boolean;
  readonly how?: string;
  readonly why?: string;
}

export interface Timeline {
  readonly durationMs: number;
  readonly cutOff: boolean;
  readonly entries: readonly TimelineEntry[];
  /** Where that was asked for: time, key, and what it becomes. */
  readonly changes?: readonly (readonly [t: number, key: string, value: string | number | boolean | null])[];
}

/** What a button, macro or trigger would do. @returns why that cannot be said, in place of it */
export async function rehearsalOf(
  owner: StepOwner,
  more: { readonly watch?: boolean; readonly from?: 'live' | 'start' } = {},
): Promise<Timeline | string> {
  const response = await ask('/api/rehearse', { ...rehearsed(owner), ...more });
  const reply = (await response.json()) as Timeline & { message?: string; mend?: string };
  return response.ok ? reply : replyWords(reply, 'It cannot be rehearsed.');
}
