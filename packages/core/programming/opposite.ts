import { kindOf, ptzHead } from '../devices/index';
import { referenceOf } from '../engine/program';
import { sentenceOf } from '../engine/sentence';
import { childrenOf, type PlainValue, type ShowDocument, type Step, switchedOn } from '../show/index';

/** What takes one step back, as far as that can be said beforehand. */
export interface Opposite {
  /** Its sentence, or what it does in words where it depends on what stands before the press. */
  readonly words: string;
  /** The step itself; null where it depends on what stands before the press, or nothing takes it back. */
  readonly step: Step | null;
}

/**
 * What takes these steps back, the last one first. Switches are thought of as standing the other way before: a caption that comes in goes out,
 * a keyer that goes on goes off. What depends on what stands before (a source, a level, a place) is told in words.
 */
export function oppositesOf(steps: readonly Step[], document: ShowDocument): Opposite[] {
  return switchedOn(steps)
    .flatMap((step): Opposite[] => {
      if (step.kind === 'command') return oppositeOf(step, document);
      if (step.kind === 'set') return [{ words: `${sentenceOf(step, document)}: back to what it was`, step: null }];
      if (step.kind === 'together' || step.kind === 'group')
        return childrenOf(step).flatMap((list) => oppositesOf(list, document).reverse());
      if (step.kind === 'run' || step.kind === 'press' || step.kind === 'if' || step.kind === 'repeat')
        return [{ words: `${sentenceOf(step, document)}: what it did is taken back`, step: null }];
      return [];
    })
    .reverse();
}

function oppositeOf(step: Extract<Step, { kind: 'command' }>, document: ShowDocument): Opposite[] {
  const device = document.devices.find((candidate) => candidate.key === step.device);
  const kind = step.device === 'chosen.camera' ? ptzHead : kindOf(device, document);
  const definition = kind?.commands[step.command];
  if (kind === undefined || definition === undefined) return [];
  const { endedBy, effect } = definition;
  if (endedBy !== undefined && step.params.forSeconds === undefined) {
    const end: Step = { ...step, command: endedBy.command, params: { ...endedBy.params } };
    return [{ words: sentenceOf(end, document), step: end }];
  }
  const words = sentenceOf(step, document);
  if (effect === undefined) return [{ words: `${words}: it cannot be taken back`, step: null }];
  const given: Record<string, PlainValue> = {};
  for (const [key, argument] of Object.entries(step.params)) if (typeof argument !== 'object') given[key] = argument;
  const fitting = definition.params.safeParse(given);
  const params = (fitting.success ? fitting.data : given) as Record<string, PlainValue>;
  const made = effect.makes(params, () => undefined);
  const undo = effect.undo(params, (point) => {
    const after = made[point];
    return typeof after === 'boolean' ? !after : typeof after === 'string' ? '' : undefined;
  });
  // A source is a number for the device and a name for people: what stood before is not known here.
  const sound = undo?.every((deviceCommand) => {
    const meant = kind.commands[deviceCommand.command];
    return (
      meant !== undefined && Object.keys(deviceCommand.params).every((key) => referenceOf(meant, key) === undefined)
    );
  });
  if (undo == null || sound !== true) return [{ words: `${words}: back to what was there before`, step: null }];
  return undo.map((deviceCommand): Opposite => {
    const back: Step = { ...step, command: deviceCommand.command, params: { ...deviceCommand.params } };
    return { words: sentenceOf(back, document), step: back };
  });
}
