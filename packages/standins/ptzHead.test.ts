import { VirtualClock } from '@umbek/core/rehearse';
import { encodeCommand, encodeInquiry, encodePacket, hex } from '@umbek/wire/visca';
import { PtzHeadStandin } from './index';

const LIMITS = {
  panSpeed: 80,
  panAcceleration: 160,
  tiltSpeed: 60,
  tiltAcceleration: 100,
  zoomSpeed: 6500,
  zoomAcceleration: 16_000,
  replyDelayMs: 10,
};

describe('a head', () => {
  it('says that a move is over although somebody looks at the very moment of its end', () => {
    const clock = new VirtualClock();
    const said: string[] = [];
    const head = new PtzHeadStandin(LIMITS, false, {
      clock,
      refusing: () => false,
      send: (bytes) => said.push(hex(bytes.slice(8))),
    });
    // 90° at 80°/s and 160°/s²: 90/80 + 80/160 = 1.625 s, after 10 ms. The look is planned first, so at that moment it comes first.
    clock.at(1635, () =>
      head.receive(encodePacket({ type: 'inquiry', sequence: 2, payload: encodeInquiry('panTilt') }), 'driver'),
    );
    head.receive(
      encodePacket({
        type: 'command',
        sequence: 1,
        payload: encodeCommand({ kind: 'absolute', panStep: 24, tiltStep: 20, panCounts: 1200, tiltCounts: 0 }),
      }),
      'driver',
    );
    clock.runTo(3000);
    // 1200 counts are 04B0.
    expect(said).toEqual(['90 41 FF', '90 50 00 04 0B 00 00 00 00 00 FF', '90 51 FF']);
  });
});
