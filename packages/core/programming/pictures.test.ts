import { corvaneHill } from '@umbek/demo';
import { swapped } from './count/swap';
import { picturesFor } from './pictures';

const show = corvaneHill();
const step = (device: string, command: string, params: Record<string, string>) =>
  ({ id: command, onFail: 'stop', kind: 'command', device, command, params }) as const;

describe('the picture of a cap', () => {
  it('is offered of what its button recalls and shows', () => {
    const steps = [
      step('deskCam', 'recall', { position: 'twoShot' }),
      step('switcher', 'preview', { source: 'deskCam' }),
      step('captions', 'nameIn', { name: 'deskCam' }),
    ];
    expect(picturesFor({ steps }, show)).toEqual([
      { picture: 'position:twoShot', words: 'Two shot' },
      { picture: 'source:deskCam', words: 'Desk cam' },
    ]);
    expect(picturesFor({ steps: [] }, show)).toEqual([]);
    const choose = { id: 'c', onFail: 'stop', kind: 'set', target: 'chosen.camera', to: 'lawnCam' } as const;
    expect(picturesFor({ steps: [choose] }, show)).toEqual([{ picture: 'source:lawnCam', words: 'Lawn cam' }]);
  });

  it('goes along when the button is counted up', () => {
    const [button] = show.buttons;
    if (button === undefined) throw new Error('The demo has no button.');
    const { id: _id, stripId: _strip, order: _order, ...plan } = { ...button, picture: 'source:deskCam' };
    const next = swapped(plan, { kind: 'source', words: 'Source', value: 'deskCam' }, 'lawnCam', show);
    expect([next.picture, next.legend]).toEqual(['source:lawnCam', 'Lawn cam']);
  });
});
