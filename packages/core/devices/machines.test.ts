import {
  clipPlayer,
  type DeviceKind,
  guestGateway,
  pointsOf,
  recorder,
  replayServer,
  router,
  slides,
  soundMixer,
  streamEncoder,
  venueScreen,
  voiceDb,
} from './index';

/** A model under hand: commands at given times, then what it shows at another. */
function bench(kind: DeviceKind, settings: Record<string, unknown>) {
  const model = kind.startModel({ replyDelayMs: 0, ...settings }, 0);
  let count = 0;
  let wakeAt: number | null = model.step({ type: 'read', now: 0 }).wakeAt;
  const catchUp = (now: number): void => {
    while (wakeAt !== null && wakeAt <= now) ({ wakeAt } = model.step({ type: 'wake', now: wakeAt }));
  };
  return {
    /** @returns "done", or why it was refused */
    tell(now: number, command: string, params: Record<string, string | number | boolean> = {}): string {
      catchUp(now);
      const result = model.step({ type: 'command', id: `${(count += 1)}`, command: { command, params }, now });
      wakeAt = result.wakeAt;
      const [reply] = result.replies;
      return reply?.event === 'refused' ? (reply.why ?? '') : (reply?.event ?? '');
    },
    shows(now: number, ...points: string[]): unknown[] {
      catchUp(now);
      const result = model.step({ type: 'read', now }).points;
      return points.map((point) => result[point]);
    },
    wakeAt: () => wakeAt,
  };
}

describe('the clip player', () => {
  const clips = [
    { name: 'Film', seconds: 3 },
    { name: 'Loop', seconds: 2 },
  ];
  const place = { channel: 1, layer: 1 };

  it('cues, plays to the end and reports it, counting in whole seconds both ways', () => {
    const player = bench(clipPlayer, { clips });
    expect(player.tell(0, 'cue', { clip: 'Film', ...place, loop: false })).toBe('done');
    expect(player.shows(0, 'ch1Layer1Stage', 'ch1Layer1Left', 'ch1Layer2Stage', 'clips')).toEqual([
      'cued',
      3,
      'empty',
      'Film\nLoop',
    ]);
    player.tell(1000, 'play', place);
    expect(player.wakeAt()).toBe(2000);
    expect(player.shows(2500, 'ch1Layer1Position', 'ch1Layer1Left', 'ch1Layer1Playing')).toEqual([1, 2, true]);
    expect(player.shows(4000, 'ch1Layer1Stage', 'ch1Layer1Position', 'ch1Layer1Left', 'ch1Layer1Ended')).toEqual([
      'ended',
      3,
      0,
      true,
    ]);
    expect(player.wakeAt()).toBeNull();
  });

  it('pauses where it is, goes on from there, and begins again after its end', () => {
    const player = bench(clipPlayer, { clips });
    player.tell(0, 'cue', { clip: 'Film', ...place, loop: false });
    player.tell(0, 'play', place);
    player.tell(1500, 'pause', place);
    expect(player.shows(9000, 'ch1Layer1Stage', 'ch1Layer1Position', 'ch1Layer1Left')).toEqual(['paused', 1, 2]);
    player.tell(10_000, 'play', place);
    // 1.5 s were left.
    expect(player.shows(11_499, 'ch1Layer1Stage')).toEqual(['playing']);
    expect(player.shows(11_500, 'ch1Layer1Stage')).toEqual(['ended']);
    player.tell(12_000, 'play', place);
    expect(player.shows(12_000, 'ch1Layer1Position', 'ch1Layer1Stage')).toEqual([0, 'playing']);
  });

  it('comes and goes as its layer was set to: cleared, it is there until it has gone', () => {
    const player = bench(clipPlayer, { clips });
    player.tell(0, 'transition', { ...place, kind: 'mix', ms: 400 });
    player.tell(0, 'cue', { clip: 'Film', ...place, loop: false });
    player.tell(1000, 'play', place);
    expect(player.shows(1399, 'ch1Layer1Stage', 'ch1Layer1Changing', 'ch1Layer1Transition')).toEqual([
      'playing',
      true,
      'mix 400',
    ]);
    expect(player.shows(1400, 'ch1Layer1Changing')).toEqual([false]);
    player.tell(2000, 'clear', place);
    expect(player.shows(2399, 'ch1Layer1Stage', 'ch1Layer1Clip', 'ch1Layer1Changing')).toEqual([
      'playing',
      'Film',
      true,
    ]);
    expect(player.shows(2400, 'ch1Layer1Stage', 'ch1Layer1Clip', 'ch1Layer1Changing', 'ch1Layer1Transition')).toEqual([
      'empty',
      '',
      false,
      'mix 400',
    ]);
    // A cut is the usual case: nothing comes or goes.
    player.tell(3000, 'cue', { clip: 'Loop', channel: 2, layer: 1, loop: false });
    player.tell(3000, 'play', { channel: 2, layer: 1 });
    player.tell(3100, 'clear', { channel: 2, layer: 1 });
    expect(player.shows(3100, 'ch2Layer1Stage', 'ch2Layer1Changing')).toEqual(['empty', false]);
  });

  it('goes to a place in its clip, and not beyond its end', () => {
    const player = bench(clipPlayer, { clips });
    player.tell(0, 'cue', { clip: 'Film', ...place, loop: false });
    expect(player.tell(0, 'goTo', { ...place, seconds: 2 })).toBe('done');
    expect(player.tell(0, 'goTo', { ...place, seconds: 3.5 })).toBe('Film is only 3 s long.');
    player.tell(0, 'play', place);
    expect(player.shows(999, 'ch1Layer1Position', 'ch1Layer1Stage')).toEqual([2, 'playing']);
    expect(player.shows(1000, 'ch1Layer1Stage')).toEqual(['ended']);
  });

  it('loops without an end, on another layer at the same time', () => {
    const player = bench(clipPlayer, { clips });
    player.tell(0, 'cue', { clip: 'Loop', channel: 1, layer: 2, loop: true });
    player.tell(0, 'play', { channel: 1, layer: 2 });
    expect(player.shows(7000, 'ch1Layer2Stage', 'ch1Layer2Position', 'ch1Layer2Left')).toEqual(['playing', 1, 1]);
  });

  it('refuses what is not there', () => {
    const player = bench(clipPlayer, { clips });
    expect(player.tell(0, 'cue', { clip: 'Gone', ...place, loop: false })).toBe(
      'There is no clip "Gone" on the player.',
    );
    expect(player.tell(0, 'play', place)).toBe('Channel 1, layer 1 holds no clip.');
  });
});

describe('the replay server', () => {
  const settings = { bufferSeconds: 10, angles: 4 };

  it('marks a moment, cues it at half speed and rolls until the buffer has moved past it', () => {
    const server = bench(replayServer, settings);
    expect(server.tell(2000, 'mark', { ago: 5 })).toBe('5 s ago is no longer in the buffer.');
    expect(server.tell(20_000, 'mark', { ago: 5 })).toBe('done');
    expect(server.shows(20_000, 'lastMark', 'lastMarkLeft', 'buffered')).toEqual([1, 5, 10]);
    expect(server.tell(20_000, 'cue', { mark: 0, channel: 1, angle: 2, speed: 50 })).toBe('done');
    expect(server.tell(20_000, 'play', { channel: 1 })).toBe('done');
    // Cued 5 s behind; at half speed it falls behind by 0.5 s a second and has 5 s of buffer behind it: 10 s.
    expect(server.shows(24_000, 'ch1Stage', 'ch1Behind', 'ch1Angle')).toEqual(['playing', 7, 2]);
    expect(server.shows(29_900, 'ch1Rolling')).toEqual([true]);
    expect(server.shows(30_100, 'ch1Stage', 'ch1Rolling')).toEqual(['ended', false]);
  });

  it('tells start and end of its buffer on its own clock, and marks a moment on it', () => {
    const server = bench(replayServer, settings);
    expect(server.shows(4000, 'bufferStart', 'bufferEnd')).toEqual([0, 4]);
    // 10 s of buffer: at 25.5 s it starts at 15.5 s.
    expect(server.shows(25_500, 'bufferStart', 'bufferEnd')).toEqual([15.5, 25.5]);
    expect(server.tell(25_500, 'markAt', { time: 15.4 })).toBe('15.4 s has fallen out of the buffer.');
    expect(server.tell(25_500, 'markAt', { time: 26 })).toBe('26 s has not been recorded yet.');
    expect(server.tell(25_500, 'markAt', { time: 20.25 })).toBe('done');
    // It falls out at 30.25 s; 4.75 s are left, told as 5.
    expect(server.shows(25_500, 'lastMark', 'lastMarkAt', 'lastMarkLeft')).toEqual([1, 20.25, 5]);
    server.tell(25_500, 'cue', { mark: 1, channel: 1, angle: 1, speed: 50 });
    server.tell(25_500, 'play', { channel: 1 });
    expect(server.shows(27_500, 'ch1At')).toEqual([21.25]);
  });

  it('begins a rehearsal with the buffer, the latest mark and the channels as they are', () => {
    const live = bench(replayServer, settings);
    live.tell(20_000, 'mark', { ago: 3 });
    live.tell(20_000, 'cue', { mark: 1, channel: 2, angle: 3, speed: 50 });
    const points = replayServer
      .startModel(
        { replyDelayMs: 0, ...settings },
        0,
        Object.fromEntries(
          ['bufferEnd', 'lastMark', 'lastMarkAt', 'ch2Stage', 'ch2Mark', 'ch2Angle', 'ch2Speed', 'ch2At'].map(
            (point) => [point, live.shows(20_000, point)[0] as number],
          ),
        ),
      )
      .step({ type: 'read', now: 0 }).points;
    expect(points).toMatchObject({
      bufferStart: 10,
      bufferEnd: 20,
      lastMark: 1,
      lastMarkAt: 17,
      lastMarkLeft: 7,
      ch2Stage: 'cued',
      ch2Angle: 3,
      ch2At: 17,
    });
  });

  it('ends a fast roll where it catches up with the present, and says which marks are gone', () => {
    const server = bench(replayServer, settings);
    server.tell(20_000, 'mark', { ago: 4 });
    server.tell(20_000, 'cue', { mark: 1, channel: 2, angle: 1, speed: 200 });
    server.tell(20_000, 'play', { channel: 2 });
    // 4 s behind, gaining a second each second.
    expect(server.shows(23_900, 'ch2Stage')).toEqual(['playing']);
    expect(server.shows(24_100, 'ch2Stage')).toEqual(['ended']);
    expect(server.tell(27_000, 'cue', { mark: 1, channel: 1, angle: 1, speed: 50 })).toBe(
      'Mark 1 has fallen out of the buffer.',
    );
    expect(server.tell(27_000, 'cue', { mark: 9, channel: 1, angle: 1, speed: 50 })).toBe('There is no mark 9.');
    expect(server.shows(27_000, 'lastMarkLeft')).toEqual([0]);
  });
});

describe('the recorder', () => {
  const settings = { startDelayMs: 300, spaceGb: 0.025, rateMbit: 50 };

  it('records only once it says so, counts, splits without losing a frame, and stops', () => {
    const machine = bench(recorder, { ...settings, spaceGb: 100 });
    expect(machine.tell(0, 'start', { file: 'night-1' })).toBe('done');
    expect(machine.shows(299, 'recording', 'starting', 'file')).toEqual([false, true, 'night-1']);
    expect(machine.shows(300, 'recording', 'elapsed')).toEqual([true, 0]);
    machine.tell(5300, 'split');
    expect(machine.shows(5300, 'file', 'files', 'elapsed', 'recording')).toEqual(['night-1-2', 'night-1', 5, true]);
    machine.tell(8300, 'stop');
    // 8 s at 50 Mbit/s are 0.05 GB.
    expect(machine.shows(8300, 'recording', 'files', 'spaceGb', 'stoppedUnasked')).toEqual([
      false,
      'night-1\nnight-1-2',
      100,
      false,
    ]);
    expect(machine.tell(9000, 'start', { file: 'night-1' })).toBe('There is a file night-1 already.');
    expect(machine.tell(9000, 'start', { file: '../etc' })).toMatch(/is no file name/);
  });

  it('has a timecode that stands while it does not record, or goes on for ever and begins anew each day', () => {
    const machine = bench(recorder, { ...settings, spaceGb: 100, timecodeFrom: 3600 });
    expect(machine.shows(50_000, 'timecode', 'timecodeRuns')).toEqual([3600, false]);
    machine.tell(60_000, 'start', { file: 'a' });
    expect(machine.shows(62_299, 'timecode', 'timecodeRuns')).toEqual([3601, true]);
    expect(machine.shows(62_300, 'timecode')).toEqual([3602]);
    // Stopped after 2.5 s of it, the third second is half over when it goes on.
    machine.tell(62_800, 'stop');
    expect(machine.shows(90_000, 'timecode', 'timecodeRuns')).toEqual([3602, false]);
    machine.tell(100_000, 'start', { file: 'b' });
    expect(machine.shows(100_799, 'timecode')).toEqual([3602]);
    expect(machine.shows(100_800, 'timecode')).toEqual([3603]);
    const always = bench(recorder, { ...settings, timecodeRuns: 'always', timecodeFrom: 86_398 });
    expect(always.shows(1999, 'timecode', 'timecodeRuns')).toEqual([86_399, true]);
    expect(always.shows(2000, 'timecode')).toEqual([0]);
  });

  it('runs full, fails to start and stops by itself, and says what is wrong', () => {
    const machine = bench(recorder, settings);
    machine.tell(0, 'start', { file: 'a' });
    // 0.025 GB at 50 Mbit/s are 4 s.
    expect(machine.shows(4299, 'recording', 'hoursLeft')).toEqual([true, 0]);
    expect(machine.shows(4301, 'recording', 'stoppedUnasked', 'fault')).toEqual([false, true, 'The disk is full.']);
    const other = bench(recorder, { ...settings, spaceGb: 10 });
    other.tell(0, 'failStart');
    other.tell(0, 'start', { file: 'b' });
    expect(other.shows(400, 'recording', 'starting', 'fault')).toEqual([false, false, 'It could not begin to record.']);
    other.tell(500, 'start', { file: 'b' });
    expect(other.shows(900, 'recording', 'fault', 'stoppedUnasked')).toEqual([true, '', false]);
    other.tell(1000, 'stopItself');
    expect(other.shows(1000, 'recording', 'stoppedUnasked', 'fault')).toEqual([false, true, 'It stopped by itself.']);
  });
});

describe('the router', () => {
  it('connects, refuses a protected destination, and has points for as many destinations as it has', () => {
    const settings = { destinations: 4, sources: 8 };
    const matrix = bench(router, settings);
    expect(matrix.tell(0, 'connect', { destination: 2, source: 7 })).toBe('done');
    expect(matrix.tell(0, 'protect', { destination: 2, on: true })).toBe('done');
    expect(matrix.tell(0, 'connect', { destination: 2, source: 1 })).toBe('Destination 2 is protected.');
    expect(matrix.tell(0, 'connect', { destination: 5, source: 1 })).toBe('There is no destination 5.');
    expect(matrix.tell(0, 'connect', { destination: 1, source: 9 })).toBe('There is no source 9.');
    expect(matrix.shows(0, 'out1', 'out2', 'out2Protected', 'out5')).toEqual([1, 7, true, undefined]);
    expect(Object.keys(pointsOf({ kind: 'router', settings }, { profiles: [] }))).toHaveLength(8);
  });
});

describe('slides, screen and encoder', () => {
  it('go forward, back and to a slide, and say where they end', () => {
    const player = bench(slides, { titles: ['One', 'Two'] });
    expect([player.tell(0, 'next'), player.tell(0, 'next')]).toEqual(['done', 'This is the last slide.']);
    expect(player.shows(0, 'slide', 'slides', 'title')).toEqual([2, 2, 'Two']);
    expect(player.tell(0, 'goTo', { slide: 3 })).toBe('There is no slide 3; there are 2.');
  });

  it('keep looks as set-ups', () => {
    const screen = bench(venueScreen, {});
    screen.tell(0, 'brightness', { level: 30 });
    screen.tell(0, 'storeSetUp', { number: 2 });
    screen.tell(0, 'recallSetUp', { number: 1 });
    expect(screen.shows(0, 'brightness', 'setUp')).toEqual([80, 1]);
    screen.tell(0, 'recallSetUp', { number: 2 });
    expect(screen.shows(0, 'brightness', 'setUp')).toEqual([30, 2]);
    expect(screen.tell(0, 'recallSetUp', { number: 5 })).toBe('Nothing is stored as set-up 5.');
  });

  it('stream once connected, and count what they lose', () => {
    const encoder = bench(streamEncoder, { connectMs: 800, reconnectMs: 2000 });
    encoder.tell(0, 'start');
    expect(encoder.shows(799, 'streaming', 'connecting')).toEqual([false, true]);
    expect(encoder.shows(3800, 'streaming', 'elapsed')).toEqual([true, 3]);
    encoder.tell(4000, 'loseConnection');
    expect(encoder.shows(5000, 'streaming', 'reconnects', 'lostFrames')).toEqual([false, 1, 100]);
    expect(encoder.shows(6000, 'streaming', 'elapsed')).toEqual([true, 5]);
  });
});

describe('the sound mixer', () => {
  it('fades in a straight line, mutes, and says who is open', () => {
    const mixer = bench(soundMixer, { channels: 2 });
    mixer.tell(0, 'fader', { channel: 1, db: -60, ms: 2000 });
    expect(mixer.shows(500, 'ch1Fader', 'ch2Fader')).toEqual([-15, 0]);
    expect(mixer.shows(2000, 'ch1Fader')).toEqual([-60]);
    expect(mixer.wakeAt()).toBeNull();
    expect(mixer.tell(0, 'mute', { channel: 3, on: true })).toBe('There is no channel 3.');
  });

  it('has the same voices for the same seed, 25 levels a second, and none when muted', () => {
    const mixer = bench(soundMixer, { channels: 3, voices: 7 });
    expect(mixer.wakeAt()).toBe(40);
    expect(mixer.shows(1000, 'ch1Level', 'ch2Level')).toEqual([voiceDb(7, 0, 1000), voiceDb(7, 1, 1000)]);
    const levels = Array.from({ length: 3 * 400 }, (_, at) => voiceDb(7, at % 3, Math.floor(at / 3) * 500));
    expect([Math.min(...levels) >= -60, Math.max(...levels) <= -12]).toEqual([true, true]);
    // Everybody speaks at some time and listens at some time.
    for (const channel of [0, 1, 2]) {
      const own = levels.filter((_, at) => at % 3 === channel);
      expect([own.some((level) => level > -40), own.some((level) => level < -50)]).toEqual([true, true]);
    }
    mixer.tell(1000, 'mute', { channel: 1, on: true });
    expect(mixer.shows(1040, 'ch1Level', 'ch1Open')).toEqual([-60, false]);
  });
});

describe('voices that are told who speaks', () => {
  it('lets one channel speak alone, nobody, or the script go on', () => {
    const mixer = bench(soundMixer, { channels: 3, voices: 7 });
    expect(mixer.tell(0, 'voice2')).toBe('done');
    expect(mixer.shows(400, 'ch1Open', 'ch2Open', 'ch3Open')).toEqual([false, true, false]);
    expect(mixer.tell(500, 'voicesQuiet')).toBe('done');
    expect(mixer.shows(900, 'ch1Open', 'ch2Open', 'ch3Open')).toEqual([false, false, false]);
    mixer.tell(1000, 'voicesScripted');
    expect(mixer.shows(2000, 'ch1Level')).toEqual([voiceDb(7, 0, 2000)]);
    expect(mixer.tell(2000, 'voice4')).toBe('There is no channel 4.');
  });

  it('stands still with its levels like a mixer that hangs, until somebody is said to speak', () => {
    const mixer = bench(soundMixer, { channels: 2, voices: 7 });
    mixer.tell(0, 'voice1');
    mixer.tell(1000, 'voicesHang');
    const [level] = mixer.shows(1000, 'ch1Level');
    expect(mixer.shows(1400, 'ch1Level', 'ch1Open')).toEqual([level, true]);
    expect(mixer.shows(20_000, 'ch1Level')).toEqual([level]);
    mixer.tell(20_000, 'voice2');
    expect(mixer.shows(20_400, 'ch1Open', 'ch2Open')).toEqual([false, true]);
  });
});

describe('the guest gateway', () => {
  it('lets guests come, puts them on lines, and tells who dropped', () => {
    const gateway = bench(guestGateway, { lines: 2, guests: ['Marit', 'Obi'], joinEvery: 5 });
    expect(gateway.shows(4999, 'waiting')).toEqual(['']);
    expect(gateway.shows(10_000, 'waiting')).toEqual(['Marit\nObi']);
    expect(gateway.tell(10_000, 'putOnLine', { guest: 'Obi', line: 1 })).toBe('done');
    expect(gateway.tell(10_000, 'putOnLine', { guest: 'Marit', line: 1 })).toBe('Obi is on line 1.');
    expect(gateway.tell(10_000, 'putOnLine', { guest: 'Wen', line: 2 })).toBe('Wen is not waiting.');
    gateway.tell(11_000, 'guestDrops');
    expect(gateway.shows(11_000, 'line1Guest', 'line1Connected', 'line1Dropped', 'waiting')).toEqual([
      'Obi',
      false,
      true,
      'Marit',
    ]);
    gateway.tell(12_000, 'guestReturns');
    expect(gateway.shows(12_000, 'line1Connected', 'line1Dropped')).toEqual([true, false]);
    gateway.tell(13_000, 'takeOff', { line: 1 });
    expect(gateway.shows(13_000, 'line1Guest', 'waiting')).toEqual(['', 'Marit\nObi']);
  });

  it('tells picture and sound of each line, who speaks and who shares', () => {
    const gateway = bench(guestGateway, { lines: 3, guests: ['Marit', 'Obi'], joinEvery: 1 });
    gateway.tell(2000, 'putOnLine', { guest: 'Marit', line: 1 });
    gateway.tell(2000, 'putOnLine', { guest: 'Obi', line: 3 });
    expect(gateway.shows(2000, 'line1Picture', 'line1Height', 'line2Picture', 'speaking')).toEqual([
      true,
      720,
      false,
      0,
    ]);
    gateway.tell(2100, 'guestSpeaks');
    expect(gateway.shows(2100, 'speaking', 'line1Speaking')).toEqual([1, true]);
    // Nobody is on line 2: the next who speaks is on line 3.
    gateway.tell(2200, 'guestSpeaks');
    gateway.tell(2200, 'guestShares');
    expect(gateway.shows(2200, 'speaking', 'sharing', 'line3Speaking')).toEqual([3, 1, true]);
    gateway.tell(2300, 'lineNarrow');
    gateway.tell(2300, 'picture', { line: 3, on: false });
    expect(gateway.shows(2300, 'line1Height', 'line3Picture')).toEqual([360, false]);
    expect(gateway.tell(2300, 'picture', { line: 2, on: true })).toBe('Nobody is there on line 2.');
    gateway.tell(2400, 'takeOff', { line: 3 });
    expect(gateway.shows(2400, 'speaking', 'line3Picture')).toEqual([0, false]);
  });

  it('lets the same things happen at the same times from the same seed', () => {
    const story = (seed: number): string => {
      const gateway = bench(guestGateway, { lines: 2, guests: ['Marit', 'Obi', 'Wen'], seed });
      const commandsOf = [60_000, 120_000, 180_000].map((now) => {
        gateway.tell(now, 'putOnLine', { guest: 'Marit', line: 1 });
        return gateway.shows(now + 100, 'waiting', 'line1Connected', 'speaking', 'sharing').join('|');
      });
      return commandsOf.join(' / ');
    };
    expect(story(7)).toBe(story(7));
    expect(new Set([1, 2, 3, 4, 5].map(story)).size).toBeGreaterThan(1);
    expect(story(7)).toContain('Obi');
  });
});
