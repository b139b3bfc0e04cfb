import { airEffect, changed, freshSteps, NEW_LEGEND, type StepChoice } from '@umbek/core/programming';
import { type Button, type Change, type LampRule, type ShowDocument, type Step, stepsWithin } from '@umbek/core/show';

/** An id that none of these steps has, nor those inside them. */
export function freeId(steps: readonly Step[]): string {
  const taken = new Set([...stepsWithin(steps)].map((step) => step.id));
  for (let number = taken.size + 1; ; number += 1) if (!taken.has(`s${number}`)) return `s${number}`;
}

/** @param all every step of what the list belongs to */
export const withChoice = (steps: readonly Step[], choice: StepChoice, all: readonly Step[]): Step[] => [
  ...steps,
  ...freshSteps([{ ...choice.step, id: '' } as Step], all),
];

/** Legend and lamps that suit the first step of a button that nobody has named: the position's, the source's or the person's name. */
export function firstSuggestion(step: Step, document: ShowDocument): { legend: string; lamps: LampRule[] } | null {
  if (step.kind !== 'command') return null;
  const { params, device, command } = step;
  const position = document.positions.find((candidate) => candidate.key === params.position);
  if (position)
    return { legend: position.name, lamps: [{ when: `${device}.arrived == "${position.key}"`, show: 'arrived' }] };
  const source = document.sources.find((candidate) => candidate.key === params.source);
  if (source && source.input !== null) {
    return {
      legend: source.name,
      lamps: [
        { when: `onAir("${source.key}")`, show: 'onAir' },
        { when: `onPreview("${source.key}")`, show: 'onPreview' },
      ],
    };
  }
  const person = document.people.find((candidate) => candidate.key === params.person);
  if (person) return { legend: person.name, lamps: [{ when: 'button.isSo', show: 'up' }] };
  if (command === 'nameIn')
    return {
      legend: String(params.name),
      lamps: [{ when: `${device}.nameUp && ${device}.nameText == ${JSON.stringify(params.name)}`, show: 'up' }],
    };
  return null;
}

/** A step more at the end of what a press does. The first one of a button that nobody has named gives it its name and its lamps. */
export function stepAdded(button: Button, choice: StepChoice, show: ShowDocument, all: readonly Step[]): Change[] {
  const next = withChoice(button.steps, choice, all);
  const [first] = next;
  const unnamed = button.legend === NEW_LEGEND && next.length === 1;
  const suggestion = unnamed && first ? firstSuggestion(first, show) : null;
  // What a button does by itself tells when it lights, until somebody says otherwise.
  const lights = all.length === 0 && suggestion === null && button.lamps.length === 0;
  return [
    changed('buttons', button, 'steps', next),
    ...(lights ? [changed('buttons', button, 'lamps', [{ when: 'button.isSo', show: 'up' }])] : []),
    ...(suggestion === null
      ? []
      : [
          changed('buttons', button, 'legend', suggestion.legend.slice(0, 120)),
          ...(button.lamps.length === 0 ? [changed('buttons', button, 'lamps', suggestion.lamps)] : []),
        ]),
  ];
}

/** What a press of it would show on air now; empty when nothing. */
export const effectsOf = (
  button: Pick<Button, 'steps'>,
  document: ShowDocument,
  point: (key: string) => string | number | boolean | undefined,
): string[] => airEffect(button.steps, document, point);
