import { childrenOf, type ShowDocument, type Step } from '../show/index';

/** A place where something is used. */
export interface Use {
  /** Id of the button, macro, position or source that uses it. */
  readonly id: string;
  readonly where: string;
}

/** What may be looked for: a device, source, position or value by its key, a macro by its id. */
export type Sought =
  | { readonly kind: 'device' | 'source' | 'role' | 'reframe' | 'position' | 'value'; readonly key: string }
  | { readonly kind: 'macro'; readonly key: string };

/** Everywhere a thing is used, so that nothing is taken away unseen. */
export function usesOf(document: ShowDocument, sought: Sought): Use[] {
  const { kind, key } = sought;
  const inText = textUse(sought);
  const inStep = (step: Step): boolean => {
    switch (step.kind) {
      case 'command':
        if (kind === 'device' && step.device === key) return true;
        return Object.values(step.params).some((argument) =>
          typeof argument === 'object'
            ? inText(argument.cel)
            : (kind === 'source' || kind === 'role' || kind === 'reframe' || kind === 'position') && argument === key,
        );
      case 'wait':
        return inText(step.until);
      case 'set':
        return (
          (kind === 'value' && step.target === `value.${key}`) ||
          (typeof step.to === 'object'
            ? inText(step.to.cel)
            : kind === 'device' && step.to === key && step.target.startsWith('chosen.'))
        );
      case 'run':
        return kind === 'macro' && step.macro === key;
      case 'if':
        if (inText(step.when)) return true;
        break;
      case 'repeat':
        if ('while' in step.over && inText(step.over.while)) return true;
        break;
      case 'together':
      case 'press':
      case 'ask':
      case 'note':
        break;
      case 'pause':
        return false;
    }
    return childrenOf(step).some((list) => list.some(inStep));
  };
  const strips = new Map(document.strips.map((strip) => [strip.id, strip]));
  const panels = new Map(document.panels.map((panel) => [panel.id, panel]));
  const buttons = document.buttons.flatMap((button): Use[] => {
    const used =
      [...button.steps, ...button.releaseSteps].some(inStep) ||
      button.lamps.some((lamp) => inText(lamp.when)) ||
      inText(button.legend) ||
      inText(button.note);
    const strip = strips.get(button.stripId);
    return used
      ? [
          {
            id: button.id,
            where: [panels.get(strip?.panelId ?? '')?.name, strip?.name, button.legend].filter(Boolean).join(' · '),
          },
        ]
      : [];
  });
  const macros = document.macros.flatMap((macro): Use[] =>
    [...macro.steps, ...macro.stopSteps].some(inStep) || (kind === 'device' && macro.owns.includes(key))
      ? [{ id: macro.id, where: `Macro ${macro.number} · ${macro.name}` }]
      : [],
  );
  const rig =
    kind === 'device'
      ? [
          ...document.positions
            .filter((one) => one.camera === key)
            .map((one) => ({ id: one.id, where: `Position · ${one.name}` })),
          ...document.sources
            .filter((one) => one.camera === key)
            .map((one) => ({ id: one.id, where: `Source · ${one.name}` })),
        ]
      : kind === 'source'
        ? [
            ...document.roles
              .filter((one) => one.source === key)
              .map((one) => ({ id: one.id, where: `Role · ${one.name}` })),
            ...document.reframes
              .filter((one) => one.source === key)
              .map((one) => ({ id: one.id, where: `Reframe · ${one.name}` })),
          ]
        : [];
  return [...buttons, ...macros, ...rig];
}

/** Whether an expression or live text names it. Keys are letters and digits, so a word border ends them. */
function textUse({ kind, key }: Sought): (text: string) => boolean {
  const pattern = kind === 'device' ? `\\b${key}\\.|"${key}"` : kind === 'value' ? `\\bvalue\\.${key}\\b` : `"${key}"`;
  const found = new RegExp(pattern);
  return (text) => found.test(text);
}
