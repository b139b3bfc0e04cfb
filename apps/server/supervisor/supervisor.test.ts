import { VirtualClock } from '@umbek/core/rehearse';
import { BeatWatch } from './beatWatch';
import { Guards } from './guards';

const MOVE = { host: 'h', port: 7, datagrams: [Buffer.from('stop').toString('base64')] };

function guards() {
  const clock = new VirtualClock();
  const sent: [number, string][] = [];
  const reports: string[] = [];
  const made = new Guards(
    clock,
    {
      send: (_host, port, datagrams) =>
        sent.push([clock.now(), `${port} ${datagrams.map((datagram) => Buffer.from(datagram).toString()).join()}`]),
    },
    (device, why) => reports.push(`${device}: ${why}`),
  );
  return { clock, sent, reports, guards: made };
}

describe('what the parent keeps to end a move', () => {
  it('goes out four times against loss when the engine ends, and once for each device', () => {
    const { clock, sent, reports, guards: made } = guards();
    made.set('deskCam', MOVE);
    made.set('lawnCam', MOVE);
    made.set('lawnCam', null);
    made.stopAll('the engine had ended');
    clock.runTo(1000);
    expect(sent).toEqual([0, 40, 120, 250].map((at) => [at, '7 stop']));
    expect(reports).toEqual(['deskCam: the engine had ended']);
    made.stopAll('again');
    expect(sent).toHaveLength(4);
  });

  it('ends a move of a stated length when its engine did not, and not when it did', () => {
    const { clock, sent, guards: made } = guards();
    made.set('deskCam', { ...MOVE, endsAfterMs: 2000 });
    made.set('lawnCam', { ...MOVE, endsAfterMs: 1000 });
    clock.runTo(900);
    made.set('lawnCam', null);
    clock.runTo(2149);
    expect(sent).toEqual([]);
    clock.runTo(2150);
    expect(sent).toEqual([[2150, '7 stop']]);
    expect(made.moving).toEqual([]);
  });
});

describe('the beat of the engine', () => {
  function watched(moving: () => boolean) {
    const clock = new VirtualClock();
    const reports: string[] = [];
    const watch = new BeatWatch(clock, {
      moving,
      stopMoves: () => reports.push(`stop at ${clock.now()}`),
      hung: () => reports.push(`hung at ${clock.now()}`),
    });
    return { clock, reports, watch };
  }

  it('that stays out for 600 ms stops what moves, once; for 2 s ends the engine', () => {
    const { clock, reports, watch } = watched(() => true);
    clock.runTo(500);
    watch.beat();
    clock.runTo(1050);
    expect(reports).toEqual([]);
    clock.runTo(2450);
    expect(reports).toEqual(['stop at 1100']);
    clock.runTo(2500);
    expect(reports).toEqual(['stop at 1100', 'hung at 2500']);
  });

  it('is waited for without a stop where nothing moves, and not at all before the first one', () => {
    const { clock, reports, watch } = watched(() => false);
    clock.runTo(20_000);
    expect(reports).toEqual([]);
    watch.beat();
    clock.runTo(21_950);
    expect(reports).toEqual([]);
    clock.runTo(22_000);
    expect(reports).toEqual(['hung at 22000']);
  });

  it('is not missed by a parent that was itself late', () => {
    let now = 0;
    const due: (() => void)[] = [];
    const reports: string[] = [];
    const clock = {
      now: () => now,
      wall: () => new Date(now),
      at: (_at: number, run: () => void) => (due.push(run), () => undefined),
    };
    const watch = new BeatWatch(clock, {
      moving: () => true,
      stopMoves: () => reports.push('stop'),
      hung: () => reports.push('hung'),
    });
    watch.beat();
    // The machine stood still for three seconds: both were asleep.
    now = 3000;
    due.shift()?.();
    expect(reports).toEqual([]);
    for (let look = 0; look < 12; look += 1) {
      now += 50;
      due.shift()?.();
    }
    expect(reports).toEqual(['stop']);
  });

  it('is over when the watch is closed, also by what it tells', () => {
    const clock = new VirtualClock();
    let hung = 0;
    const watch: BeatWatch = new BeatWatch(clock, {
      moving: () => false,
      stopMoves: () => undefined,
      hung: () => ((hung += 1), watch.close()),
    });
    watch.beat();
    clock.runTo(60_000);
    expect(hung).toBe(1);
  });
});
