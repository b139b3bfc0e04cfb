import { corvaneHill, demoId } from '@umbek/demo';
import { compileExpression } from '../expression/index';
import type { Step } from '../show/index';
import { takerChoices } from './voices';
import {
  leavingWords,
  nameAfter,
  newTrigger,
  occasionChoices,
  occasionWords,
  triggersListed,
  triggerWords,
} from './triggers';

const show = corvaneHill();
const words = (text: string) => {
  const found = occasionChoices(show).find((occasionChoice) => occasionChoice.words === text);
  if (found === undefined) throw new Error(`There is no choice "${text}".`);
  return found;
};
const id = demoId('TRG', 900);
const command = (device: string, name: string, params: Record<string, string | number | boolean> = {}): Step => ({
  id: 'a',
  onFail: 'stop',
  kind: 'command',
  device,
  command: name,
  params,
});

describe('triggers as they are offered and told', () => {
  it('begin from sources, clips, captions, devices, values and the time of day', () => {
    expect(words('While Roof cam is on air').on).toEqual({ kind: 'turns', condition: 'onAir("roofCam")', to: true });
    expect(words('When Roof cam leaves air').on).toMatchObject({ to: false });
    expect(words('When Captions no longer answers').on).toMatchObject({ condition: 'captions.reached', to: false });
    expect(words('When Meteor count changes').on).toEqual({ kind: 'changes', of: 'value.meteors' });
    expect(words('When another camera is chosen').on).toEqual({ kind: 'changes', of: 'chosen.camera' });
    expect(words('While Desk cam is chosen').on).toMatchObject({ condition: 'chosen.camera == "deskCam"' });
    expect(words('At a time of day').on).toEqual({ kind: 'time', at: '20:00:00', date: '' });
    expect(occasionChoices(show).filter(({ key }) => key.includes('spool.ch1Layer1Ended'))).toHaveLength(3);
  });

  it('begin from a picture that is lost, a mark, and a recorder that runs short of space', () => {
    const replay = show.devices.find(({ kind }) => kind === 'replayServer');
    const recorder = show.devices.find(({ kind }) => kind === 'recorder');
    expect(words('When Roof cam is frozen').on).toMatchObject({ condition: 'picture("roofCam") == "frozen"' });
    const lost = words('While Roof cam gives no good picture');
    expect(triggerWords(newTrigger(show, id, lost), show)).toBe('While Roof cam gives no good picture: nothing yet');
    const said = (condition: string) =>
      occasionWords({ kind: 'when', on: { kind: 'turns', condition, to: true } }, show);
    expect(said('picture("roofCam") == "none" && value.meteors > 100')).toBe(
      'When Roof cam gives no picture, and Meteor count is over 100',
    );
    expect(words(`When ${replay?.name}: a mark is made`).on).toEqual({
      kind: 'changes',
      of: `${replay?.key}.lastMark`,
    });
    expect(words(`When ${replay?.name}: the latest mark falls out of the buffer in 60 s`).on).toMatchObject({
      condition: `${replay?.key}.lastMarkLeft > 0 && ${replay?.key}.lastMarkLeft < 60`,
    });
    expect(words(`When ${recorder?.name}: space is left for less than 1 h`).on).toMatchObject({
      condition: `${recorder?.key}.hoursLeft < 1.0`,
    });
    const time = words(`When ${recorder?.name}: timecode reaches 10:01:00:00`);
    expect(time.on).toMatchObject({ condition: `${recorder?.key}.timecode >= 36060`, to: true });
    expect(said(`${recorder?.key}.timecode >= 36900.48`)).toBe(`When ${recorder?.name}: timecode reaches 10:15:00:24`);
    expect(said(`${recorder?.key}.timecode < 36900`)).toBe(`When ${recorder?.name}: timecode is before 10:15:00:00`);
    for (const { on } of occasionChoices(show))
      if (on.kind === 'turns') expect(compileExpression(on.condition)).toMatchObject({ ok: true });
  });

  it('go on saying what makes them fire, until a person names them', () => {
    const trigger = newTrigger(show, id, words('When Roof cam comes on air'));
    const leaves = words('When Roof cam leaves air');
    expect(nameAfter(trigger, leaves, show)).toBe('When Roof cam leaves air');
    expect(nameAfter({ ...trigger, name: 'Sky' }, leaves, show)).toBe('Sky');
  });

  it('each have a key of their own', () => {
    const keys = occasionChoices(show).map(({ key }) => key);
    expect(new Set(keys).size).toBe(keys.length);
  });

  it('read as sentences', () => {
    const roof = newTrigger(show, id, words('While Roof cam is on air'));
    expect(triggerWords(roof, show)).toBe('While Roof cam is on air: nothing yet');
    const full = { ...roof, steps: [command('captions', 'countIn', { count: 7 }), command('switcher', 'cut')] };
    expect(triggerWords(full, show)).toBe('While Roof cam is on air: Count board in at 7, then Cut');
    const over = { kind: 'when' as const, on: { kind: 'turns' as const, condition: 'value.meteors > 100', to: true } };
    expect(occasionWords(over, show)).toBe('When Meteor count is over 100');
    const both = { ...over, on: { ...over.on, condition: 'spool.ch1Layer1Ended && value.meteors > 100' } };
    expect(occasionWords(both, show)).toBe(
      'When Spool: clip on channel 1, layer 1 has ended, and Meteor count is over 100',
    );
    expect(occasionWords({ kind: 'when', on: { kind: 'time', at: '20:15:00', date: '2026-08-12' } }, show)).toBe(
      'At 20:15:00 on 2026-08-12',
    );
  });

  it('are found by what they say', () => {
    const roof = { ...newTrigger(show, id, words('While Roof cam is on air')), group: 'Captions' };
    const found = (search: string) => triggersListed({ ...show, triggers: [roof] }, search).map(({ group }) => group);
    expect([found('roof air'), found('spool')]).toEqual([['Captions'], []]);
  });

  it('say what takes a step back', () => {
    expect(leavingWords(command('captions', 'countIn', { count: 7 }), show)).toBe('Take the count board out');
    expect(leavingWords(command('sound', 'fader', { channel: 1, db: -20 }), show)).toContain('back to what it was');
    expect(leavingWords(command('switcher', 'cut'), show)).toContain('cannot be taken back');
  });

  it('that follow microphones say which switcher takes their shots, and can be given another one', () => {
    const choice = words('Microphones choose the shot');
    expect(choice.on).toMatchObject({ switcher: 'switcher', mics: [{ source: 'deskCam' }, { source: 'lawnCam' }] });
    const second = {
      ...show,
      devices: [
        ...show.devices.map((device) =>
          device.key === 'switcher' ? { ...device, key: 'other', name: 'Other' } : device,
        ),
      ],
    };
    expect(takerChoices(second)).toEqual([{ key: 'other', group: 'Switchers', words: 'Other' }]);
    // A show without a switcher is not offered what could not take a shot.
    const none = { ...show, devices: show.devices.filter(({ key }) => key !== 'switcher') };
    expect(occasionChoices(none).some(({ kind }) => kind === 'follow')).toBe(false);
  });
});
