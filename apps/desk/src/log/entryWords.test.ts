import { corvaneHill } from '@umbek/demo';
import { entryWords, type LogEntry } from './entryWords';

const show = corvaneHill();
const sent = (device: string, command: string, params: Record<string, string | number | boolean> = {}): string =>
  entryWords(
    {
      seq: 1,
      at: '',
      kind: 'command',
      t: 0,
      runId: 'r',
      commandId: 'c',
      device,
      command: { command, params },
    } as LogEntry,
    show,
  );

describe('a line of the log', () => {
  it('tells a command as the editor words it, and what the wire counts by its name', () => {
    expect(sent('switcher', 'preview', { source: 17 })).toBe('Switcher: Preview Layout 1');
    expect(sent('switcher', 'boxOn', { box: 3, layout: 1, on: false })).toBe('Switcher: Hide box 3 of layout 1');
    expect(sent('deskCam', 'recall', { number: 1, pan: -12.45, position: 'inesClose', tilt: 3, zoom: 4.2 })).toBe(
      'Recall Ines close on Desk cam',
    );
    expect(sent('exchange', 'connect', { destination: 1, source: 3 })).toMatch(/^Exchange: /);
  });

  it('says input where no source is known, and the keys where the device is gone', () => {
    expect(sent('switcher', 'program', { source: 12 })).toBe('Switcher: Put input 12 on air');
    expect(sent('gone', 'blink', { times: 3 })).toBe('gone: blink: 3');
  });
});
