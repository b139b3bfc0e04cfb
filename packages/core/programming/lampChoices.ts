import { pointsOf } from '../devices/index';
import type { LampRule, ShowDocument } from '../show/index';
import { conditionOf, conditionWords } from '../engine/conditions';
import { SELECTIONS } from '../engine/selections';

/** So many of what can be chosen are listed each; of ten thousand people nobody chooses from a list. */
const MOST_CHOSEN = 200;

/** A lamp rule that can be put in as it stands. */
export interface LampChoice {
  readonly key: string;
  readonly group: string;
  readonly words: string;
  readonly rule: LampRule;
}

/** Lamp rules from the show's own things, so that nobody has to write an expression. */
export function lampChoices(document: ShowDocument): LampChoice[] {
  const choice = (group: string, words: string, when: string, show: LampRule['show']): LampChoice => ({
    key: `${when}/${show}`,
    group,
    words,
    rule: { when, show },
  });
  const buses = document.sources.flatMap((source) =>
    source.input === null
      ? []
      : [
          choice('On air', `${source.name} is on air`, `onAir("${source.key}")`, 'onAir'),
          choice('Next', `${source.name} is next`, `onPreview("${source.key}")`, 'onPreview'),
        ],
  );
  const arrivals = document.positions.map((position) =>
    choice(
      'Arrived',
      `${document.devices.find((device) => device.key === position.camera)?.name ?? position.camera} has arrived at ${position.name}`,
      `${position.camera}.arrived == "${position.key}"`,
      'arrived',
    ),
  );
  const chosen = Object.entries(SELECTIONS).flatMap(([key, { words, choices }]) =>
    choices(document)
      .slice(0, MOST_CHOSEN)
      .map(({ value, name }) =>
        choice('Chosen', `${name} is the chosen ${words}`, `chosen.${key} == ${JSON.stringify(value)}`, 'chosen'),
      ),
  );
  const switches = document.devices.flatMap((device) =>
    Object.entries(pointsOf(device, document)).flatMap(([point, definition]) =>
      definition.type === 'switch' ? [choice(device.name, definition.words, `${device.key}.${point}`, 'up')] : [],
    ),
  );
  const triggers = document.triggers.flatMap(({ id, name, kind }) => [
    choice('Triggers', `${name} is armed`, `armed("${id}")`, 'armed'),
    ...(kind === 'when'
      ? []
      : [choice('Triggers', `${name} ${kind === 'while' ? 'holds' : 'follows'}`, `holds("${id}")`, 'up')]),
  ]);
  const own = choice('This button', 'What this button does is so', 'button.isSo', 'up');
  return [own, ...buses, ...arrivals, ...chosen, ...triggers, ...switches];
}

/** A rule in people's words where it is one of those; its condition otherwise. */
export function lampRuleWords(rule: LampRule, document: ShowDocument): string {
  const known = lampChoices(document).find((lampChoice) => lampChoice.rule.when === rule.when);
  if (known !== undefined) return known.words;
  const condition = conditionOf(rule.when, document);
  return condition === null ? rule.when : conditionWords(condition, document);
}
