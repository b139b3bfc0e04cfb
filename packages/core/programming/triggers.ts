import { kindOf, pointsOf } from '../devices/index';
import { type Occasion, type ShowDocument, type Step, switchedOn, type Trigger } from '../show/index';
import { isKeepable } from '../engine/rules/keepable';
import { isHead, partOf } from '../show/part';
import { SELECTIONS } from '../engine/selections';
import { commandWords, sentenceOf } from '../engine/sentence';
import { conditionOf, conditionWords, conjuncts, saidOf, toldOf } from '../engine/conditions';
import { lampChoices } from './lampChoices';
import { inOrder, orderBetween } from './order';
import { negated } from '../engine/conditions';
import { searched, type StepChoice, stepChoices } from './stepChoices';
import { valueWords } from './valueFields';
import { freshVoices, voicesWords } from './voices';

export { circleWith, circleWords } from '../engine/rules/circles';
export { isTimeZone } from '../engine/rules/timeOfDay';

/** What a trigger can begin from, ready as it stands. */
export interface OccasionChoice {
  readonly key: string;
  readonly group: string;
  /** "While Roof cam is on air", "When the clip on channel 1 ends". */
  readonly words: string;
  readonly kind: Trigger['kind'];
  readonly on: Occasion;
  /** What has to hold beside it. */
  readonly onlyIf?: string;
}

/** So much before the end of a clip something is begun, seconds. */
const NEAR_S = 5;
/** A level that is asked about is asked against this, dB below full scale. */
const LOUD_DB = -30;
const VOICES = 'Microphones choose the shot';

const turns = (condition: string, to = true): Occasion => ({ kind: 'turns', condition, to });

/** Everything that a show can do something by itself upon: its sources, clips, captions, recorders, devices, values, the time of day. */
export function occasionChoices(document: ShowDocument): OccasionChoice[] {
  const choice = (group: string, words: string, kind: Trigger['kind'], on: Occasion): OccasionChoice => ({
    key: `${kind}/${JSON.stringify(on)}`,
    group,
    words,
    kind,
    on,
  });
  const sources = document.sources.flatMap(({ key, name, input }) => {
    if (input === null) return [];
    const [air, next] = [`onAir("${key}")`, `onPreview("${key}")`];
    return [
      choice('Sources', `While ${name} is on air`, 'while', turns(air)),
      choice('Sources', `When ${name} comes on air`, 'when', turns(air)),
      choice('Sources', `When ${name} leaves air`, 'when', turns(air, false)),
      choice('Sources', `While ${name} is on preview`, 'while', turns(next)),
      choice('Sources', `When ${name} comes on preview`, 'when', turns(next)),
      choice('Sources', `When ${name} leaves preview`, 'when', turns(next, false)),
      choice('Sources', `When ${name} gives no picture`, 'when', turns(`picture("${key}") == "none"`)),
      choice('Sources', `When ${name} is black`, 'when', turns(`picture("${key}") == "black"`)),
      choice('Sources', `When ${name} is frozen`, 'when', turns(`picture("${key}") == "frozen"`)),
      choice('Sources', `While ${name} gives no good picture`, 'while', turns(`picture("${key}") != "good"`)),
    ];
  });
  const devices = document.devices.flatMap((device) => {
    const states = Object.entries(pointsOf(device, document)).flatMap(
      ([point, { type, words, ticks, silentWhile, moments = [] }]) => {
        const key = `${device.key}.${point}`;
        if (silentWhile !== undefined)
          return (['over', 'under'] as const).map((is) => {
            const on = turns(`${key} ${is === 'over' ? '>' : '<'} ${LOUD_DB}`);
            return choice(device.name, `When ${device.name}: ${inner(words)} is ${is} ${LOUD_DB} dB`, 'when', on);
          });
        if (moments.length > 0)
          return moments.map((moment) =>
            choice(
              device.name,
              `When ${device.name}: ${moment.words}`,
              'when',
              'so' in moment ? turns(moment.so.replaceAll('{}', key)) : { kind: 'changes', of: key },
            ),
          );
        // Cleared before its end it counts nothing any more, and comes to nothing all the same.
        if (ticks?.by === -1)
          return [
            {
              ...choice(
                device.name,
                `When ${device.name}: ${inner(words)} is under ${NEAR_S} s`,
                'when',
                turns(`${key} < ${NEAR_S}`),
              ),
              onlyIf: `${device.key}.${ticks.while}`,
            },
          ];
        if (type !== 'switch') return [];
        const said = stateOf(device.name, inner(words));
        return [
          choice(device.name, `When ${said.so}`, 'when', turns(key)),
          choice(device.name, `When ${said.notSo}`, 'when', turns(key, false)),
          choice(device.name, `While ${said.so}`, 'while', turns(key)),
        ];
      },
    );
    const reached = `${device.key}.reached`;
    return [
      ...states,
      choice('Devices lost and back', `When ${device.name} no longer answers`, 'when', turns(reached, false)),
      choice('Devices lost and back', `When ${device.name} is back`, 'when', turns(reached)),
    ];
  });
  const values = document.values.map(({ key, name }) =>
    choice('Show values', `When ${name} changes`, 'when', { kind: 'changes', of: `value.${key}` }),
  );
  const heads = document.devices.filter((device) => isHead(device, document));
  const chosen = [
    ...Object.entries(SELECTIONS).flatMap(([key, { words, choices }]) =>
      choices(document).length === 0
        ? []
        : [choice('Chosen', `When another ${words} is chosen`, 'when', { kind: 'changes', of: `chosen.${key}` })],
    ),
    ...heads.flatMap(({ key, name }) => [
      choice('Chosen', `When ${name} is chosen`, 'when', turns(`chosen.camera == "${key}"`)),
      choice('Chosen', `While ${name} is chosen`, 'while', turns(`chosen.camera == "${key}"`)),
    ]),
  ];
  const time = choice('Time', 'At a time of day', 'when', { kind: 'time', at: '20:00:00', date: '' });
  const heard = freshVoices(document);
  const voices = heard === null ? [] : [choice('Sound', VOICES, 'follow', heard)];
  return [...sources, time, ...voices, ...values, ...chosen, ...devices];
}

/** The choices of a show by their keys: lists ask for the words of every trigger. */
const choicesBefore = new WeakMap<ShowDocument, ReadonlyMap<string, OccasionChoice>>();

function choicesOf(document: ShowDocument): ReadonlyMap<string, OccasionChoice> {
  let known = choicesBefore.get(document);
  if (known === undefined)
    choicesBefore.set(
      document,
      (known = new Map(occasionChoices(document).map((occasionChoice) => [occasionChoice.key, occasionChoice]))),
    );
  return known;
}

/** States that say what a device does, and so go on from its name. */
const DOES = /^(records|begins|plays|loops|connects|streams|stopped|rolls)\b/;

/** A state of a device, and that it is not so, after "when". */
function stateOf(device: string, said: string): { readonly so: string; readonly notSo: string } {
  if (DOES.test(said)) return { so: `${device} ${said}`, notSo: `${device} no longer ${said}` };
  const not = negated(said);
  return {
    so: `${device}: ${said}`,
    notSo: not.startsWith('not: ') ? `${device}, no longer: ${said}` : `${device}: ${not}`,
  };
}

const inner = (words: string): string => words.charAt(0).toLowerCase() + words.slice(1);

/** Words inside a sentence: names keep their capital. */
function within(words: string, { devices, sources, values }: ShowDocument): string {
  const names = [devices, sources, values].flatMap((list: readonly { readonly name: string }[]) => list);
  const named = names.find(({ name }) => words.toLowerCase().startsWith(name.toLowerCase()))?.name;
  return named === undefined ? inner(words) : `${named}${words.slice(named.length)}`;
}

/** One of several conditions: beside others the state of a device needs the name of its device. */
const partWords = (part: string, document: ShowDocument): string =>
  document.devices.some(({ key }) => part.startsWith(`${key}.`)) ? saidOf(part, document) : askedWords(part, document);

/** A condition in people's words where the lists know it; its text otherwise. */
function askedWords(condition: string, document: ShowDocument): string {
  const parts = conjuncts(condition);
  if (parts.length > 1)
    return parts
      .map((part, at) => (at === 0 ? partWords(part, document) : within(partWords(part, document), document)))
      .join(', and ');
  const known = lampChoices(document).find(({ rule }) => rule.when === condition);
  if (known !== undefined) return known.words;
  const [, lost] = /^([a-z][A-Za-z0-9]*)\.reached$/.exec(condition) ?? [];
  const device = lost === undefined ? undefined : document.devices.find(({ key }) => key === lost);
  if (device !== undefined) return `${device.name} answers`;
  const simple = conditionOf(condition, document);
  return simple === null ? saidOf(condition, document) : conditionWords(simple, document).replace(/^Show values: /, '');
}

/** What makes a trigger fire, as a sentence begins: "While Roof cam is on air". */
export function occasionWords({ kind, on }: Pick<Trigger, 'kind' | 'on'>, document: ShowDocument): string {
  if (on.kind === 'voices') return VOICES;
  if (on.kind === 'time') return `At ${on.at}${on.date === '' ? '' : ` on ${on.date}`}`;
  const known = choicesOf(document).get(`${kind}/${JSON.stringify(on)}`);
  if (known !== undefined) return known.words;
  if (on.kind === 'changes') {
    const value = document.values.find(({ key }) => on.of === `value.${key}`);
    return `When ${value?.name ?? toldOf(on.of, '', document)?.about ?? on.of} changes`;
  }
  const asked = within(askedWords(on.condition, document), document);
  if (kind === 'while') return `While ${asked}`;
  if (on.to) return `When ${asked}`;
  const at = asked.lastIndexOf(' is ');
  return at < 0 || conjuncts(on.condition).length > 1
    ? `When no longer so: ${asked}`
    : `When ${asked.slice(0, at)} is no longer ${asked.slice(at + 4)}`;
}

/** What a trigger is called that is to begin otherwise: a name that only said what makes it fire goes on saying so; one that a person gave stays. */
export const nameAfter = (trigger: Trigger, next: Pick<Trigger, 'kind' | 'on'>, document: ShowDocument): string =>
  trigger.name === occasionWords(trigger, document).slice(0, 120)
    ? occasionWords(next, document).slice(0, 120)
    : trigger.name;

/** What its steps do, in one line. */
export const doesWords = ({ on, steps }: Pick<Trigger, 'on' | 'steps'>, document: ShowDocument): string =>
  on.kind === 'voices'
    ? voicesWords(on, document)
    : steps.length === 0
      ? 'nothing yet'
      : switchedOn(steps)
          .map((step) => sentenceOf(step, document))
          .join(', then ')
          // A question has its own mark.
          .replace(/([?!]), then /g, '$1 Then ') || 'nothing: its steps are switched off';

/** A trigger as a sentence: "While Roof cam is on air: Count board in at 7". */
export const triggerWords = (trigger: Trigger, document: ShowDocument): string =>
  `${occasionWords(trigger, document)}: ${doesWords(trigger, document)}`;

/** Steps that a *while* rule can keep, captions first: they are what is most often kept. */
export function keepableChoices(document: ShowDocument, before: readonly Step[]): StepChoice[] {
  const found = stepChoices(document, before).filter(({ step }) => isKeepable(step, document));
  const captions = new Set(
    document.devices.filter((device) => partOf(device, document) === 'captions').map(({ key }) => key),
  );
  const isCaption = ({ step }: StepChoice): boolean => step.kind === 'command' && captions.has(step.device);
  return [...found.filter(isCaption), ...found.filter((stepChoice) => !isCaption(stepChoice))];
}

/** A trigger as its list shows it. */
export interface TriggerGroup {
  readonly group: string;
  readonly triggers: readonly Trigger[];
}

/** Triggers by group, those without one first, in their order. @param search words that its name, group or sentence has to hold */
export function triggersListed(document: ShowDocument, search: string): TriggerGroup[] {
  const named = inOrder(document.triggers).map((trigger) => ({
    trigger,
    group: trigger.group,
    words: `${trigger.name} ${triggerWords(trigger, document)}`,
  }));
  const found = searched(named, search).map(({ trigger }) => trigger);
  const groups = [...new Set(found.map(({ group }) => group))].sort((a, b) => a.localeCompare(b, 'en'));
  return groups.map((group) => ({ group, triggers: found.filter((candidate) => candidate.group === group) }));
}

/** A trigger that does nothing yet, named by what makes it fire. */
export const newTrigger = (
  document: ShowDocument,
  id: string,
  { words, kind, on, onlyIf = '' }: OccasionChoice,
): Trigger => ({
  id,
  name: words.slice(0, 120),
  group: '',
  kind,
  on,
  steps: [],
  onlyIf,
  delayMs: 0,
  minGapMs: 0,
  again: 'startOver',
  // What cuts by itself is armed by a hand, once its shots have been chosen.
  atStart: kind === 'follow' ? 'disarmed' : 'armed',
  order: orderBetween(inOrder(document.triggers).at(-1)?.order ?? null, null),
});

/**
 * What takes a step of a *while* rule back when nothing else stands below it, as a sentence: "Take the count board out", or that it goes back to
 * what it was.
 */
export function leavingWords(step: Step, document: ShowDocument): string | null {
  if (step.kind === 'note' || step.off === true) return null;
  if (step.kind === 'set') {
    const value = document.values.find(({ key }) => step.target === `value.${key}`);
    const start = value === undefined ? '' : `, such as ${valueWords(document, value, value.start)}`;
    return `${value?.name ?? step.target} back to what it was${start}`;
  }
  if (step.kind !== 'command') return `${sentenceOf(step, document)}: it cannot be taken back`;
  const device = document.devices.find(({ key }) => key === step.device);
  const effect = device && kindOf(device, document)?.commands[step.command]?.effect;
  if (device === undefined || effect === undefined || effect.relative === true)
    return `${sentenceOf(step, document)}: it cannot be taken back`;
  const params = Object.fromEntries(
    Object.entries(step.params).flatMap(([key, to]) => (typeof to === 'object' ? [] : [[key, to]])),
  );
  const points = pointsOf(device, document);
  // The same from two states in which nothing is up: it does not depend on what stood before.
  const ways = [0, 1].map((state) =>
    JSON.stringify(
      effect.undo(params, (name) => {
        const type = points[name]?.type;
        return type === 'switch' ? false : type === 'number' ? state : `${state}`;
      }),
    ),
  );
  const [way] = ways;
  if (way === undefined || way === 'null' || way !== ways[1])
    return `${commandWords(step, document)}: back to what it was`;
  const back = JSON.parse(way) as { command: string; params: Record<string, string | number | boolean> }[];
  return back.map((item) => commandWords({ ...item, device: device.key }, document)).join(', ');
}
