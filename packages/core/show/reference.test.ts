import { corvaneHill, demoId } from '@umbek/demo';
import { entryWords } from './entryWords';
import { referenceAt, referenceOfChange, stepPathTo } from './reference';
import type { Step } from './step';

const show = corvaneHill();
const wait: Step = { kind: 'wait', id: 'w', until: 'true', timeoutMs: 1000, onFail: 'stop' } as Step;
const inner: Step = { kind: 'together', id: 't', steps: [wait], onFail: 'stop' } as Step;
const first = show.buttons[0];
if (first === undefined) throw new Error('The demo has no buttons.');
const nested = { ...show, buttons: [{ ...first, steps: [{ ...wait, id: 'a' }, inner] }] };

describe('a place in a show', () => {
  it('is found from a path by numbers, through steps in steps', () => {
    const at = (path: string) => referenceAt(nested, path);
    expect(at('buttons.0.steps.1.steps.0.until')).toEqual({
      entity: 'buttons',
      id: first.id,
      path: ['t', 'w', 'until'],
    });
    expect(at('buttons.0.steps.0')).toEqual({ entity: 'buttons', id: first.id, path: ['a'] });
    expect(at('buttons.0.lamps.2.when')).toEqual({ entity: 'buttons', id: first.id, path: ['lamps'] });
    expect(at('devices.0.port')).toEqual({ entity: 'devices', id: show.devices[0]?.id, path: ['port'] });
    expect(at('show.name')).toEqual({ entity: 'show', id: show.show.id, path: ['name'] });
  });

  it('is none where the show has no such entry or list', () => {
    for (const path of ['buttons.99.steps', 'constructor.0', '', 'nothing.0.x', 'buttons.x'])
      expect([path, referenceAt(nested, path)]).toEqual([path, null]);
  });

  it('is led to by the steps around it', () => {
    expect(stepPathTo([{ ...wait, id: 'a' }, inner], (step) => step.id === 'w')).toEqual(['t', 'w']);
    expect(stepPathTo([inner], (step) => step.id === 'x')).toBeNull();
  });

  it('is the entry and the field of a change, and the entry alone where all of it is made or goes', () => {
    expect(referenceOfChange({ entity: 'panels', id: 'p', field: 'name' })).toEqual({
      entity: 'panels',
      id: 'p',
      path: ['name'],
    });
    expect(referenceOfChange({ entity: 'panels', id: 'p', field: '*' }).path).toEqual([]);
  });

  it('is called what people call it', () => {
    const words = (entity: Parameters<typeof entryWords>[1]['entity'], id: string | undefined) =>
      entryWords(show, { entity, id: id ?? '' });
    expect(words('buttons', first.id)).toBe('Main · Sources · Desk cam');
    expect(words('macros', show.macros[0]?.id)).toBe('Macro 1 · Opening');
    expect(words('positions', show.positions.find(({ key }) => key === 'twoShot')?.id)).toBe('Position · Two shot');
    expect(words('panels', demoId('PAN', 1))).toBe('Panel · Main');
    expect(words('show', show.show.id)).toBe(show.show.name);
    expect(words('buttons', 'nobody')).toBe('');
  });
});
