import {
  chosenButtons,
  type Counted,
  counted,
  countedChanges,
  type Counter,
  countersOf,
  type CountPlan,
  inParts,
  renumbered,
  sharedChanges,
  shareOf,
  sharersOf,
} from '@umbek/core/programming';
import type { Button as ButtonData, Change, ShowDocument } from '@umbek/core/show';
import { useEffect, useMemo, useState } from 'react';
import { ulid } from 'ulid';
import { useEdits } from '../show/ShowContext';

/** So many numbers follow before anybody says how many. */
const USUAL_MORE = 3;

/** Whether buttons are filled on behind the chosen ones, or the chosen ones themselves count. */
export type CountMode = 'more' | 'these';

/** Buttons that count up: what it would make, seen on the panel before it is made. */
export interface Count {
  readonly buttons: readonly ButtonData[];
  readonly counters: readonly Counter[];
  readonly mode: CountMode;
  readonly plan: CountPlan;
  readonly result: Counted;
  /** What buttons that exist would say, by their id. */
  readonly become: ReadonlyMap<string, Pick<ButtonData, 'legend' | 'note'>>;
  /** So many buttons would be made or changed. */
  readonly size: number;
  /** Whether all of them share one macro then; null where they cannot, or do already. */
  readonly share: boolean | null;
  /** So many buttons would run the macro that the first one runs already. */
  readonly sharing: number;
  /** What goes less far than asked for, in words. */
  readonly notice: string | null;
  setMode(mode: CountMode): void;
  set(change: Partial<CountPlan>): void;
  toggle(key: string): void;
  setShare(on: boolean): void;
  make(): void;
  end(): void;
}

const NONE: CountPlan = { across: [], step: 1, more: 0, down: null, strips: 1, colour: 'source' };

/** What of a rig is counted is counted to its end; a number by a few. */
const usualMore = (counter: Counter | undefined): number =>
  counter === undefined
    ? 0
    : counter.key.startsWith('number') || counter.key.startsWith('text')
      ? Math.min(USUAL_MORE, counter.most)
      : counter.most;

/** The changes behind those that make buttons, after which all of them run one macro. */
function sharedBy(document: ShowDocument, buttons: readonly ButtonData[], made: readonly Change[]): Change[] {
  const all = [...buttons, ...made.flatMap(({ entity, to }) => (entity === 'buttons' ? [to as ButtonData] : []))];
  const found = shareOf(document, all);
  return 'words' in found ? [] : sharedChanges(document, all, found, buttons[0]?.legend ?? '', ulid).changes;
}

/** @returns null while nothing counts; `begin` starts it with these buttons */
export function useCount(document: ShowDocument): {
  readonly count: Count | null;
  begin(ids: readonly string[]): void;
} {
  const edits = useEdits();
  const [ids, setIds] = useState<readonly string[] | null>(null);
  const [mode, setMode] = useState<CountMode>('more');
  const [plan, setPlan] = useState<CountPlan>(NONE);
  const [wanted, setWanted] = useState<boolean | null>(null);
  const buttons = useMemo(() => (ids === null ? [] : chosenButtons(document, new Set(ids))), [document, ids]);
  const counters = useMemo(() => countersOf(document, buttons), [document, buttons]);
  const gone = ids !== null && buttons.length === 0;
  useEffect(() => {
    if (gone) setIds(null);
  }, [gone]);
  const [key] = plan.across;
  const result = useMemo(() => counted(document, buttons, plan), [document, buttons, plan]);
  const these = useMemo(
    () => renumbered(document, buttons, key ?? '', Math.max(1, plan.step)),
    [document, buttons, key, plan.step],
  );
  /** The first buttons and those that would follow, as one list. */
  const whole = useMemo(
    () =>
      [...result.across, ...result.strips.flatMap((strip) => strip.buttons)].reduce<ButtonData[]>(
        (all, plan, at) => [...all, { ...plan, id: `planned-${at}`, stripId: '', order: '' }],
        [...buttons],
      ),
    [buttons, result],
  );
  const shareable = useMemo(
    () => mode === 'more' && buttons.length === 1 && !('words' in shareOf(document, whole)),
    [document, whole, buttons.length, mode],
  );
  // What one command does is read at once; a list that is changed later is changed once.
  const share = shareable ? (wanted ?? (buttons[0]?.steps.length ?? 0) > 1) : null;
  const [only] = buttons[0]?.steps ?? [];
  const sharing =
    mode === 'more' && only?.kind === 'run' && buttons[0]?.steps.length === 1
      ? sharersOf(document, only.macro).length + whole.length - buttons.length
      : 0;
  const become = useMemo(() => {
    const found = new Map<string, Pick<ButtonData, 'legend' | 'note'>>();
    if (mode !== 'these') return found;
    for (const button of buttons) {
      const own = these.changes.filter(({ id }) => id === button.id);
      const text = (field: 'legend' | 'note'): string => {
        const to = own.find((candidate) => candidate.field === field)?.to;
        return typeof to === 'string' ? to : button[field];
      };
      if (own.length > 0) found.set(button.id, { legend: text('legend'), note: text('note') });
    }
    return found;
  }, [buttons, mode, these]);
  const begin = (next: readonly string[]): void => {
    const own = chosenButtons(document, new Set(next));
    const [first] = countersOf(document, own);
    setIds(own.map(({ id }) => id));
    setMode('more');
    setWanted(null);
    setPlan({
      ...NONE,
      across: first === undefined ? [] : [first.key],
      step: first?.step ?? 1,
      more: usualMore(first),
    });
  };
  if (ids === null || gone) return { count: null, begin };
  const end = (): void => setIds(null);
  const size =
    mode === 'these'
      ? become.size
      : result.across.length + result.strips.reduce((sum, strip) => sum + strip.buttons.length, 0);
  const count: Count = {
    buttons,
    counters,
    mode,
    plan,
    result,
    become,
    size,
    share,
    sharing,
    notice:
      mode === 'more'
        ? result.end
        : (these.end ??
          (these.without > 0 ? `${these.without} of them have nothing of this kind and stay as they are.` : null)),
    setMode: (to) => {
      setMode(to);
      const counter = counters.find((candidate) => candidate.key === key);
      setPlan((now) => ({ ...now, step: to === 'these' ? 1 : (counter?.step ?? 1) }));
    },
    setShare: setWanted,
    set: (change) => setPlan((now) => ({ ...now, ...change })),
    toggle: (item) =>
      setPlan((now) => {
        const on = !now.across.includes(item);
        const chosen =
          mode === 'these' ? [item] : on ? [...now.across, item] : now.across.filter((each) => each !== item);
        const across = counters.filter((counter) => chosen.includes(counter.key)).map((counter) => counter.key);
        const first = counters.find((counter) => counter.key === across[0]);
        const fresh = now.across.length === 0 || !across.includes(now.across[0] ?? '');
        return {
          ...now,
          across,
          down: now.down !== null && across.includes(now.down) ? null : now.down,
          ...(fresh ? { step: mode === 'these' ? 1 : (first?.step ?? 1), more: usualMore(first) } : {}),
        };
      }),
    make: () => {
      const words = counters
        .filter((counter) => plan.across.includes(counter.key) || plan.down === counter.key)
        .map((counter) => counter.words.toLowerCase())
        .join(' and ');
      const made = mode === 'these' ? these.changes : countedChanges(document, buttons, result, ulid).changes;
      const changes = share === true ? [...made, ...sharedBy(document, buttons, made)] : made;
      for (const { label, part } of inParts(`Count up ${words} of ${size} buttons`, changes)) edits.edit(label, part);
      end();
    },
    end,
  };
  return { count, begin };
}
