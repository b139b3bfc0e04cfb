import { type Button, type ShowDocument, stepsWithin } from '../show/index';

/** What a cap could show a picture of, going by what its button does: the position that it recalls, the source that it shows. */
export function picturesFor(
  button: Pick<Button, 'steps'>,
  { sources, positions }: Pick<ShowDocument, 'sources' | 'positions'>,
): { readonly picture: string; readonly words: string }[] {
  const found = new Map<string, string>();
  for (const step of stepsWithin(button.steps)) {
    if (step.kind === 'set' && typeof step.to === 'string') {
      const source = sources.find(({ camera, key }) => camera === step.to || key === step.to);
      if (source) found.set(`source:${source.key}`, source.name);
    }
    if (step.kind !== 'command') continue;
    const { source: named, position: stored } = step.params;
    const source = sources.find(({ key }) => key === named);
    if (source) found.set(`source:${source.key}`, source.name);
    const position = positions.find(({ key }) => key === stored);
    if (position) found.set(`position:${position.key}`, position.name);
  }
  return [...found].map(([picture, words]) => ({ picture, words }));
}
