import { scopeOf, ShownHere } from './shownHere';

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

function setUp() {
  const sent: { strips: string[]; scopes: string[] }[] = [];
  const shown: ShownHere = new ShownHere(() => sent.push(shown.now()));
  return { shown, sent };
}

describe('what a page shows', () => {
  it('is told once for all changes of a moment, however often each is used', () => {
    const { shown, sent } = setUp();
    shown.use('scopes', 'switcher');
    shown.use('scopes', 'switcher');
    shown.use('strips', 'take');
    jest.advanceTimersByTime(0);
    expect(sent).toEqual([{ strips: ['take'], scopes: ['switcher'] }]);
  });

  it('is followed for ten seconds after it was left, and then no longer', () => {
    const { shown, sent } = setUp();
    const end = shown.use('scopes', 'roofCam');
    const stays = shown.use('scopes', 'roofCam');
    shown.use('scopes', 'switcher');
    jest.advanceTimersByTime(0);
    end();
    end();
    jest.advanceTimersByTime(20_000);
    expect(sent).toHaveLength(1);
    stays();
    jest.advanceTimersByTime(9_999);
    expect(sent).toHaveLength(1);
    jest.advanceTimersByTime(1);
    expect(sent[1]).toEqual({ strips: [], scopes: ['switcher'] });
  });

  it('is not told again when it comes back in time', () => {
    const { shown, sent } = setUp();
    const end = shown.use('strips', 'row');
    jest.advanceTimersByTime(0);
    end();
    jest.advanceTimersByTime(5000);
    shown.use('strips', 'row');
    jest.advanceTimersByTime(20_000);
    expect(sent).toHaveLength(1);
  });

  it('counts a key to its device, or to what stands before its @', () => {
    expect(['roofCam.pan', 'onAir@roofCam', 'chosen@main.camera', 'value.meteors'].map(scopeOf)).toEqual([
      'roofCam',
      'onAir',
      'chosen',
      'value',
    ]);
  });
});
