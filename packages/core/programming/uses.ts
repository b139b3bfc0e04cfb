import {
  entryWords,
  listsOf,
  type Reference,
  type ShowDocument,
  type Step,
  stepPathTo,
  type Voices,
} from '../show/index';

/** A place where something is used: the button, macro, position or source, and in it the first step or field that names it. */
export interface Use {
  readonly at: Reference;
  readonly where: string;
}

/** What may be looked for: a device, source, position or value by its key, a macro by its id. */
export type Sought =
  | { readonly kind: 'device' | 'source' | 'role' | 'reframe' | 'position' | 'person' | 'value'; readonly key: string }
  | { readonly kind: 'macro'; readonly key: string };

/** What parameters of commands name by key. */
const REFERRED: ReadonlySet<Sought['kind']> = new Set(['source', 'role', 'reframe', 'position', 'person']);

/** What can be chosen by its key. */
const CHOSEN_KINDS: ReadonlySet<Sought['kind']> = new Set(['device', 'source', 'role', 'person']);

/** Everywhere a thing is used, so that nothing is taken away unseen. */
export function usesOf(document: ShowDocument, sought: Sought): Use[] {
  const { kind, key } = sought;
  const inText = textUse(sought);
  const isPicture = (picture: string): boolean => picture === `${kind}:${key}`;
  const inStep = (step: Step): boolean => {
    switch (step.kind) {
      case 'command':
        if (kind === 'device' && step.device === key) return true;
        return Object.values(step.params).some((argument) =>
          typeof argument === 'object' ? inText(argument.cel) : REFERRED.has(kind) && argument === key,
        );
      case 'wait':
        return inText(step.until);
      case 'set':
        return (
          (kind === 'value' && step.target === `value.${key}`) ||
          (typeof step.to === 'object'
            ? inText(step.to.cel)
            : CHOSEN_KINDS.has(kind) && step.to === key && step.target.startsWith('chosen.'))
        );
      case 'run':
        return (
          (kind === 'macro' && step.macro === key) ||
          Object.values(step.params).some((argument) =>
            typeof argument === 'object'
              ? inText(argument.cel)
              : kind !== 'macro' && kind !== 'value' && argument === key,
          )
        );
      case 'if':
        return inText(step.when);
      case 'repeat':
        return 'while' in step.over && inText(step.over.while);
      case 'restore':
        return kind === 'device' && step.devices.includes(key);
      case 'group':
      case 'together':
      case 'press':
      case 'show':
      case 'trigger':
      case 'ask':
      case 'note':
      case 'pause':
        return false;
    }
  };
  const use = (entity: Reference['entity'], id: string, path: readonly string[]): Use => ({
    at: { entity, id, path: [...path] },
    where: entryWords(document, { entity, id }),
  });
  const buttons = document.buttons.flatMap((button): Use[] => {
    const path =
      stepPathTo(
        listsOf(button).flatMap(([, steps]) => steps),
        inStep,
      ) ??
      (button.dial !== null && inText(button.dial.reads)
        ? ['dial']
        : button.sets.some((set) => inText(set.so))
          ? ['sets']
          : isPicture(button.picture)
            ? ['picture']
            : inText(button.there)
              ? ['there']
              : button.lamps.some((lamp) => inText(lamp.when))
                ? ['lamps']
                : inText(button.legend)
                  ? ['legend']
                  : inText(button.note)
                    ? ['note']
                    : null);
    return path === null ? [] : [use('buttons', button.id, path)];
  });
  const macros = document.macros.flatMap((macro): Use[] => {
    const path =
      stepPathTo([...macro.steps, ...macro.stopSteps], inStep) ??
      (kind === 'device' && macro.owns.includes(key) ? ['owns'] : null);
    return path === null ? [] : [use('macros', macro.id, path)];
  });
  const inVoices = ({ switcher, mics, wide }: Voices): boolean =>
    kind === 'device'
      ? switcher === key || mics.some(({ level }) => level.startsWith(`${key}.`))
      : [...mics, ...(wide === null ? [] : [wide])].some((shot) =>
          kind === 'position' ? shot.position === key : (kind === 'source' || kind === 'role') && shot.source === key,
        );
  const triggers = document.triggers.flatMap((trigger): Use[] => {
    const { on, onlyIf } = trigger;
    const asked = on.kind === 'turns' ? on.condition : on.kind === 'changes' ? on.of : '';
    const path =
      stepPathTo(trigger.steps, inStep) ??
      (inText(asked) || (on.kind === 'voices' && inVoices(on)) ? ['on'] : inText(onlyIf) ? ['onlyIf'] : null);
    return path === null ? [] : [use('triggers', trigger.id, path)];
  });
  const rig =
    kind === 'device'
      ? [
          ...document.positions
            .filter((position) => position.camera === key)
            .map(({ id }) => use('positions', id, ['camera'])),
          ...document.sources.filter((source) => source.camera === key).map(({ id }) => use('sources', id, ['camera'])),
        ]
      : kind === 'source'
        ? [
            ...document.roles.filter((role) => role.source === key).map(({ id }) => use('roles', id, ['source'])),
            ...document.reframes
              .filter((reframe) => reframe.source === key)
              .map(({ id }) => use('reframes', id, ['source'])),
          ]
        : kind === 'value' && document.show.stick.range === key
          ? [{ at: { entity: 'show' as const, id: document.show.id, path: ['stick'] }, where: 'Joystick, full speed' }]
          : [];
  return [...buttons, ...macros, ...triggers, ...rig];
}

/** Whether an expression or live text names it. Keys are letters and digits, so a word border ends them. */
function textUse({ kind, key }: Sought): (text: string) => boolean {
  const pattern = kind === 'device' ? `\\b${key}\\.|"${key}"` : kind === 'value' ? `\\bvalue\\.${key}\\b` : `"${key}"`;
  const found = new RegExp(pattern);
  return (text) => found.test(text);
}
