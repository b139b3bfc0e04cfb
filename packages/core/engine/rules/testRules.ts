import { corvaneHill, demoId } from '@umbek/demo';
import { ModelPort, VirtualClock } from '../../rehearse/index';
import type { PlainValue, Step, Trigger } from '../../show/index';
import { Engine } from '../engine';
import type { ClaimRecord, JournalEvent } from '../journal';
import { programOf } from '../testShow';

/** A rule with what most tests leave as it is. */
export const rule = (number: number, partial: Partial<Trigger> & Pick<Trigger, 'on' | 'steps'>): Trigger => ({
  id: demoId('TRG', 500 + number),
  name: `Rule ${number}`,
  group: '',
  kind: 'when',
  onlyIf: '',
  delayMs: 0,
  minGapMs: 0,
  again: 'startOver',
  atStart: 'armed',
  order: `z${number}`,
  ...partial,
});

/** The condition as what makes a rule fire. */
export const turns = (condition: string, to = true): Trigger['on'] => ({ kind: 'turns', condition, to });

const MODELLED = ['switcher', 'captions', 'spool', 'deskCam', 'lawnCam', 'sound', 'recorder1'];

interface More {
  readonly restored?: ReadonlyMap<string, PlainValue>;
  readonly claims?: readonly ClaimRecord[];
  /** What devices show as the engine begins. */
  readonly from?: Readonly<Record<string, Readonly<Record<string, PlainValue>>>>;
  readonly wall?: Date;
  readonly timeZone?: string;
}

/** An engine with rules on virtual time; switcher, captions, clip player, cameras and sound are models that answer by themselves. */
export function ruled(triggers: Trigger[], more: More = {}) {
  const clock = new VirtualClock(0, more.wall ?? new Date('2026-08-12T18:00:00Z'));
  const entries: JournalEvent[] = [];
  const base = corvaneHill();
  const show = { ...base, show: { ...base.show, timeZone: more.timeZone ?? 'UTC' } };
  let program = programOf({ ...show, triggers });
  let ids = 0;
  const troubles: string[] = [];
  /** Devices that do what they are told so many milliseconds later. */
  const slow = new Map<string, number>();
  /** Devices that refuse whatever they are told. */
  const refusing = new Set<string>();
  const engine = new Engine({
    clock,
    program,
    journal: { append: (entry) => entries.push(entry) },
    newId: () => `n${(ids += 1)}`,
    onTrouble: (where, error) => troubles.push(`${where}: ${String(error)}`),
    ...(more.restored === undefined ? {} : { restored: more.restored }),
    ...(more.claims === undefined ? {} : { restoredClaims: more.claims }),
  });
  for (const key of MODELLED) {
    const device = program.devices.get(key);
    const kind = program.kindOf(key);
    if (device === undefined || kind === undefined) continue;
    const port = new ModelPort(kind, device.settings, clock, engine.newsOf(key), more.from?.[key]);
    const send = port.send.bind(port);
    port.send = (id, asked, onEvent, ...rest) => {
      const lag = slow.get(key);
      if (!refusing.has(key) && lag === undefined) return send(id, asked, onEvent, ...rest);
      if (!refusing.has(key)) {
        clock.at(clock.now() + (lag ?? 0), () => void send(id, asked, onEvent, ...rest));
        return () => undefined;
      }
      clock.at(clock.now(), () => onEvent({ type: 'outcome', outcome: 'refused', why: 'Not ready.' }));
      return () => undefined;
    };
    engine.attach(key, port);
    port.begin();
  }
  let ms = 0;
  const pass = (by: number): void => void clock.runTo((ms += by));
  pass(1);
  let presses = 0;
  /** Somebody does one thing at a station, and it has come to pass. */
  const does = (device: string, command: string, params: Record<string, PlainValue> = {}): void => {
    const pressId = `p${(presses += 1)}`;
    const answer = engine.press({
      pressId,
      buttonId: `${device}.${command}`,
      phase: 'down',
      station: 'Desk 1',
      person: 'Ines',
      direct: { device, command, params },
      sure: true,
    });
    if (!answer.accepted) throw new Error(answer.error.message);
    pass(100);
  };
  const edit = (next: Trigger[]): void => {
    program = programOf({ ...show, triggers: next });
    engine.setProgram(program);
    pass(50);
  };
  /** Commands that went to a device, in order. */
  const sent = (device: string): string[] =>
    entries.flatMap((entry) => (entry.kind === 'command' && entry.device === device ? [entry.command.command] : []));
  const wordsOf = (trigger: Trigger): string[] =>
    engine.rules?.view(trigger.id).edges.map(({ what, words }) => `${what}: ${words}`) ?? [];
  const claims = (): ClaimRecord[] => {
    const held = new Map<string, ClaimRecord>();
    for (const entry of entries)
      if (entry.kind === 'claim') {
        if (entry.claim === null) held.delete(entry.trigger);
        else held.set(entry.trigger, entry.claim);
      }
    return [...held.values()];
  };
  const view = (trigger: Trigger) => engine.rules?.view(trigger.id);
  return { clock, engine, entries, pass, does, edit, sent, wordsOf, claims, view, troubles, refusing, slow };
}

export const setValue = (target: string, to: PlainValue | { cel: string }): Step => ({
  id: 's',
  onFail: 'stop',
  kind: 'set',
  target,
  to,
});
