import type { Engine } from '../engine';
import { pressLegend } from './pressLegend';
import type { KnownRun } from './causes';
import { boardKey, readerFor } from '../scope';
import { RULES_LINK_GROUP } from './ruleReader';
import type { WhyEntry } from './ruleView';
import { keyWords } from './words';

/** So many causes are told, one of the other. */
const MOST_CAUSES = 60;

/**
 * Why something is as it is, the newest cause first: press → run → command → point → trigger → run, read backwards.
 * @param key a point (`switcher.program`, `value.meteors`), or the id of a button (its lamp), macro, run, press or trigger
 * @returns empty where nothing has this name
 */
export function whyOf(engine: Engine, key: string): readonly WhyEntry[] {
  const { causes, rules, program } = engine;
  if (causes === null || rules === null) return [];
  const chain: WhyEntry[] = [];
  const listed = new Set<string>();
  const add = (entry: WhyEntry): boolean => {
    const name = `${entry.kind} ${entry.id} ${entry.t}`;
    if (listed.has(name) || chain.length >= MOST_CAUSES) return false;
    listed.add(name);
    chain.push(entry);
    return true;
  };

  const point = (name: string): void => {
    const change = causes.change(name);
    const words = sentence(keyWords(name, engine.board.read(name), program));
    if (change === undefined) return void add({ kind: 'point', id: name, t: null, words });
    if (!add({ kind: 'point', id: name, t: change.t, words })) return;
    const { writer } = change;
    const behind = causes.behind(name);
    if (behind !== name) return point(behind);
    if (writer === null) {
      const device = program.devices.get(name.slice(0, Math.max(0, name.indexOf('.'))));
      if (device !== undefined)
        add({
          kind: 'device',
          id: device.key,
          t: change.t,
          words: change.first
            ? `${device.name} said so when it was first heard.`
            : `${device.name} did so by itself, or somebody did it there.`,
        });
      return;
    }
    if (writer.command !== undefined) {
      const { device, command, t } = writer.command;
      const called = program.devices.get(device)?.name ?? device;
      const does = program.kindOf(device)?.commands[command]?.words ?? command;
      add({ kind: 'command', id: `${device}.${command}`, t, words: `${called} was told: ${does.toLowerCase()}.` });
    }
    const ran = writer.runId === undefined ? undefined : causes.run(writer.runId);
    if (ran !== undefined) run(ran);
  };

  const run = (knownRun: KnownRun): void => {
    const { kind, id } = knownRun.cause;
    // A command from its own control: the hand says it all.
    if (kind === 'press' && isDirect(causes.press(id)?.buttonId)) return press(id);
    if (!add({ kind: 'run', id: knownRun.runId, t: knownRun.t, words: `${knownRun.name} ran.` })) return;
    if (kind === 'press' || kind === 'release') return press(id);
    if (kind === 'trigger') return trigger(id, knownRun.t);
    if (kind === 'run' || kind === 'steer') {
      const before = causes.run(id);
      if (before !== undefined) run(before);
    } else if (kind === 'station') add({ kind: 'press', id, t: knownRun.t, words: `${id} started it.` });
  };

  const isDirect = (id: string | undefined): boolean =>
    id !== undefined && id.includes('.') && !program.buttons.has(id) && !program.macros.has(id);

  const press = (id: string): void => {
    const knownPress = causes.press(id);
    if (knownPress === undefined) return;
    const who = knownPress.person === '' ? knownPress.station : `${knownPress.person} at ${knownPress.station}`;
    add({ kind: 'press', id, t: knownPress.t, words: `${who} pressed ${pressLegend(knownPress.buttonId, program)}.` });
  };

  /** @param until only what it did up to this time, milliseconds */
  const trigger = (id: string, until = Number.POSITIVE_INFINITY): void => {
    const name = program.triggers.get(id)?.name ?? 'A trigger';
    const edge = rules
      .view(id)
      .edges.filter(({ t }) => t <= until)
      .at(-1);
    if (edge === undefined) return void add({ kind: 'trigger', id, t: null, words: `${name} has not fired yet.` });
    if (!add({ kind: 'trigger', id, t: edge.t, words: `${name} ${EDGE_WORDS[edge.what]}: ${edge.words}` })) return;
    for (const cause of edge.because) add(cause);
  };

  const button = program.buttons.get(key);
  if (button !== undefined) {
    const read = readerFor(engine.board, RULES_LINK_GROUP);
    const rule = button.lamps.find(({ when }) => program.expression(when)?.evaluate(read) === true);
    const expression = rule === undefined ? undefined : program.expression(rule.when);
    if (rule === undefined || expression === undefined) {
      // A value in the hand is asked why it is what it is.
      const [turned] = program.expression(button.dial?.reads ?? '')?.readsNow(read) ?? [];
      if (turned !== undefined) {
        point(boardKey(turned, RULES_LINK_GROUP));
        return chain;
      }
      const last = causes.lastRun(key);
      if (last === undefined)
        add({
          kind: 'lamp',
          id: key,
          t: null,
          words: `${button.legend} is off: ${button.lamps.length === 0 ? 'it has no lamp rule' : 'none of its lamp rules is true'}.`,
        });
      else run(last);
      return chain;
    }
    const keys = expression.readsNow(read).map((name) => boardKey(name, RULES_LINK_GROUP));
    const latest = [...keys].sort((a, b) => (causes.change(b)?.t ?? -1) - (causes.change(a)?.t ?? -1));
    const [first] = latest.filter((name) => !name.startsWith('input@'));
    const so = keys
      .filter((name) => !name.startsWith('input@'))
      .map((name) => keyWords(name, engine.board.read(name), program));
    add({
      kind: 'lamp',
      id: key,
      t: first === undefined ? null : (causes.change(first)?.t ?? null),
      words: `${button.legend} is lit, because ${so.join(', ')}.`,
    });
    if (first !== undefined) point(first);
    return chain;
  }
  const known = causes.run(key) ?? (program.macros.has(key) ? causes.lastRun(key) : undefined);
  if (known !== undefined) run(known);
  else if (program.triggers.has(key)) trigger(key);
  else if (causes.press(key) !== undefined) press(key);
  else if (program.macros.has(key))
    add({ kind: 'run', id: key, t: null, words: `${program.macros.get(key)?.name ?? key} has not run yet.` });
  else if (isKey(engine, key)) point(boardKey(key, RULES_LINK_GROUP));
  return chain;
}

const EDGE_WORDS = {
  fired: 'fired',
  notFired: 'did not fire',
  holds: 'began to hold',
  left: 'ended',
  changed: 'was overruled',
} as const;

const sentence = (words: string): string => `${words.charAt(0).toUpperCase()}${words.slice(1)}.`;

/** Whether a point, value or selection has this name. */
function isKey({ board, program }: Engine, key: string): boolean {
  if (typeof board.read(boardKey(key, RULES_LINK_GROUP)) !== 'symbol') return true;
  return program.devices.has(key.slice(0, Math.max(0, key.indexOf('.'))));
}
