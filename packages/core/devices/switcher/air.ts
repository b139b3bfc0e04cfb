import type { AirGraph, Feed, FeedPart } from '../kind';
import type { PlainValue } from '../../show/index';
import { BOXES, INTERNAL, KEYERS, LAYOUTS, layoutNumber } from './numbers';

/** Number of the second mix bank among the sources of a switcher. */
const bankNumber = (inputs: number): number => inputs + LAYOUTS + 1;

class Parts {
  readonly parts: FeedPart[] = [];
  certain = true;

  constructor(private readonly point: (name: string) => PlainValue | undefined) {}

  /** What a point names by number; a point that nobody can vouch for leaves it open. */
  add(name: string, how: string): void {
    const number = this.point(name);
    if (number === undefined) this.certain = false;
    else if (Number(number) > 0) this.parts.push({ number: Number(number), how });
  }

  /** The same, while a switch is on. */
  addWhile(on: string, name: string, how: string): void {
    const state = this.point(on);
    if (state === undefined) this.certain = false;
    else if (state === true) this.add(name, how);
  }

  done(): Feed {
    return { parts: this.parts, certain: this.certain };
  }
}

/**
 * What feeds what in a switcher: program with the incoming half of a mix or wipe and the fills of keyers that are on, the boxes of its layout
 * engines, its second mix bank, its auxiliary outputs. Sources are numbers: its inputs, then its own outputs.
 * @param inputs how many inputs it has
 */
export const switcherAir = (inputs: number): AirGraph => ({
  outputs: ['aux1', 'aux2', 'bank2Program'],
  feed(of, point) {
    const found = new Parts(point);
    if (of === 'program') {
      found.add('program', 'on program');
      found.addWhile('mixing', 'preview', 'coming in on program');
      for (let keyer = 1; keyer <= KEYERS; keyer += 1)
        found.addWhile(`keyer${keyer}`, `keyer${keyer}Fill`, `in keyer ${keyer}`);
      return found.done();
    }
    if (of === 'preview') found.add('preview', 'on preview');
    else if (of === 'aux1' || of === 'aux2') found.add(of, `on auxiliary output ${of.slice(3)}`);
    else if (of === 'bank2Program' || of === bankNumber(inputs)) {
      found.add('bank2Program', 'on mix bank 2');
      found.addWhile('bank2Mixing', 'bank2Preview', 'coming in on mix bank 2');
    } else if (typeof of === 'number' && layoutNumber(of, inputs) !== null) {
      const layout = of - inputs;
      found.add(`layout${layout}Background`, `behind layout ${layout}`);
      for (let box = 1; box <= BOXES; box += 1) {
        const key = `layout${layout}Box${box}`;
        found.addWhile(`${key}On`, `${key}Occupant`, `in box ${box} of layout ${layout}`);
      }
    } else return undefined;
    return found.done();
  },
  reads: [
    'program',
    'preview',
    'mixing',
    'aux1',
    'aux2',
    'bank2Program',
    'bank2Preview',
    'bank2Mixing',
    ...Array.from({ length: KEYERS }, (_, index) => [`keyer${index + 1}`, `keyer${index + 1}Fill`]).flat(),
    ...Array.from({ length: LAYOUTS }, (_, index) => [
      `layout${index + 1}Background`,
      ...Array.from({ length: BOXES }, (_unused, box) => [
        `layout${index + 1}Box${box + 1}On`,
        `layout${index + 1}Box${box + 1}Occupant`,
      ]).flat(),
    ]).flat(),
  ],
  sources: inputs + INTERNAL.length,
});
