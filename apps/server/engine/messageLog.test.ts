import { encodeDeviceMessage, encodeOsc, encodeRequest } from '@umbek/wire/osc';
import { encodeCommand, encodeInquiry, encodePacket, encodeReply } from '@umbek/wire/visca';
import { MessageLog } from './messageLog';

const request = (verb: string, id: string, ...values: number[]) =>
  encodeOsc([
    encodeRequest(
      'switcher',
      verb,
      id,
      values.map((value) => ({ value, whole: true })),
    ),
  ]);
const words = (log: MessageLog, beats = false): string[] =>
  log.shown(beats).map((shown) => `${shown.direction} ${shown.words}`);

describe('the last messages of a device', () => {
  it('are told in words, newest first, with their bytes', () => {
    const log = new MessageLog('visca', () => 0);
    log.keep(
      encodePacket({ type: 'command', sequence: 7, payload: encodeCommand({ kind: 'recall', number: 2 }) }),
      true,
    );
    log.keep(encodePacket({ type: 'reply', sequence: 7, payload: encodeReply({ kind: 'ack', socket: 1 }) }), false);
    log.keep(
      encodePacket({
        type: 'reply',
        sequence: 7,
        payload: encodeReply({ kind: 'error', socket: 1, error: 'cancelled' }),
      }),
      false,
    );
    expect(words(log)).toEqual(['in #7 error: cancelled', 'in #7 acknowledged', 'out #7 recall number 2']);
    expect(log.shown(false).at(-1)).toMatchObject({
      at: '1970-01-01T00:00:00.000Z',
      bytes: '01 00 00 07 00 00 00 07 81 01 04 3F 02 02 FF',
    });
  });

  it('keep heartbeats apart, so that they push nothing else out', () => {
    const log = new MessageLog('osc');
    log.keep(request('cut', 'e1.1'), true);
    for (let count = 1; count <= 500; count += 1) {
      log.keep(request('ping', `beat${count}`), true);
      log.keep(encodeOsc([encodeDeviceMessage('switcher', { kind: 'pong', id: 'x', number: count })]), false);
    }
    expect(words(log)).toEqual(['out /switcher/cut e1.1']);
    expect(words(log, true)).toHaveLength(200);
  });

  it('count inquiries of a head, and what goes on by itself every second, among the heartbeats', () => {
    const head = new MessageLog('visca', () => 0);
    head.keep(encodePacket({ type: 'inquiry', sequence: 1, payload: encodeInquiry('zoom') }), true);
    expect([words(head), words(head, true)]).toEqual([[], ['out #1 asks for zoom']]);
    const replay = new MessageLog('osc');
    replay.keep(
      encodeOsc([encodeDeviceMessage('replayServer', { kind: 'state', point: 'bufferEnd', number: 4, value: 12 })]),
      false,
    );
    replay.keep(
      encodeOsc([encodeDeviceMessage('replayServer', { kind: 'state', point: 'lastMark', number: 5, value: 1 })]),
      false,
    );
    expect(words(replay)).toEqual(['in /replayServer/state/lastMark 5 1']);
  });

  it('say what is not of the protocol', () => {
    const log = new MessageLog('visca', () => 0);
    log.keep(Buffer.from('GET / HTTP/1.1'), false);
    expect(words(log)[0]).toMatch(/^in not VISCA: /);
    const plain = new MessageLog('profile');
    plain.keep(Buffer.from('SLIT 40\r\n'), true);
    plain.keep(Uint8Array.from([0, 1, 2]), true);
    expect(words(plain)).toEqual(['out 3 bytes', 'out SLIT 40']);
  });
});
