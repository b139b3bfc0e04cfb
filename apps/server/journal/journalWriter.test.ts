import type { JournalEvent } from '@umbek/core/engine';
import { VirtualClock } from '@umbek/core/rehearse';
import { EngineJournal } from './engineJournal';
import { entriesOfLine, type FileEntry, PARENT_FROM, SEQ_PER_EPOCH } from './entry';
import { JournalWriter } from './journalWriter';
import { MemoryDisk } from './memoryDisk';

const press = (pressId: string): JournalEvent => ({
  kind: 'press',
  t: 1,
  pressId,
  phase: 'down',
  buttonId: 'b',
  station: 'desk',
});
const run = (runId: string, pressId: string): JournalEvent => ({
  kind: 'runStart',
  t: 1,
  runId,
  name: runId,
  cause: { kind: 'press', id: pressId },
});
const step = (runId: string): JournalEvent => ({
  kind: 'step',
  t: 1,
  runId,
  stepId: 's',
  path: 'steps.0',
  words: 'x'.repeat(400),
});

/** A writer with an engine that writes into it. */
async function setUp(disk = new MemoryDisk(), options: ConstructorParameters<typeof JournalWriter>[2] = {}) {
  const clock = new VirtualClock(0, new Date('2026-08-12T21:47:08.250Z'));
  const writer = new JournalWriter(disk, clock, options);
  await writer.begin();
  const start = () => {
    const epoch = writer.beginEpoch('begins');
    const journal = new EngineJournal({ write: (line) => writer.accept(line) }, epoch, clock, () => undefined);
    return {
      epoch,
      say: (...events: JournalEvent[]) => (events.forEach((event) => journal.append(event)), journal.flush()),
    };
  };
  /** Lets what waits go out, with the pauses of a disk that fails. */
  const settle = async (ms = 0) => {
    for (let at = 0; at <= ms; at += 50) {
      clock.runTo(clock.now() + (ms === 0 ? 0 : 50));
      for (let turn = 0; turn < 20; turn += 1) await Promise.resolve();
    }
  };
  const entries = (): FileEntry[] => disk.files().flatMap((file) => disk.text(file).split('\n').flatMap(entriesOfLine));
  return { clock, disk, writer, start, settle, entries };
}

describe('the writer of the as-run', () => {
  it('counts epochs up, numbers its own entries apart, and has on the disk what came through the pipe', async () => {
    const { start, settle, entries, disk } = await setUp();
    const { epoch, say } = start();
    say(press('p1'), run('r1', 'p1'));
    await settle();
    expect([epoch, disk.text('epoch')]).toEqual([1, '1']);
    expect(entries().map(({ kind, seq }) => [kind, seq])).toEqual([
      ['checkpoint', SEQ_PER_EPOCH + PARENT_FROM + 1],
      ['engine', SEQ_PER_EPOCH + PARENT_FROM + 2],
      ['press', SEQ_PER_EPOCH + 1],
      ['runStart', SEQ_PER_EPOCH + 2],
    ]);
  });

  it('closes what a dead engine left open: once, also when the next one dies before it said a word', async () => {
    const { writer, start, settle, entries } = await setUp();
    const { say } = start();
    say(press('p1'), run('r1', 'p1'), {
      kind: 'command',
      t: 1,
      runId: 'r1',
      commandId: 'c1',
      device: 'switcher',
      command: { command: 'cut', params: {} },
    });
    writer.accept('[{"kind":"press","cut off');
    writer.engineEnded('It died.');
    start();
    writer.engineEnded('It died too.');
    await settle();
    const ends = entries().filter(({ kind }) => kind === 'runEnd' || kind === 'outcome');
    expect(ends).toMatchObject([
      { kind: 'outcome', commandId: 'c1', outcome: 'lost' },
      { kind: 'runEnd', runId: 'r1', how: 'interrupted' },
    ]);
    expect(writer.leftBehind().answers).toMatchObject([
      { pressId: 'p1', phase: 'down', answer: { accepted: true, runId: 'r1' } },
    ]);
    // Pages are told of it by the next engine, and no longer once that one has run something of its own.
    expect(writer.leftBehind().interrupted).toMatchObject([{ runId: 'r1' }]);
    start().say(run('r2', 'p2'), { kind: 'runEnd', t: 1, runId: 'r2', how: 'done' });
    expect(writer.leftBehind().interrupted).toEqual([]);
  });

  it('begins each file with a checkpoint, so that values outlive every rotation and every start', async () => {
    const { disk, start, settle } = await setUp(undefined, { rotateAt: 2000 });
    const { say } = start();
    say({ kind: 'set', t: 1, key: 'value.meteors', value: 240 });
    for (let count = 0; count < 40; count += 1) say(step('r1'));
    await settle();
    expect(disk.files().length).toBeGreaterThan(5);
    const next = await setUp(disk);
    expect(next.writer.leftBehind().values).toEqual([['value.meteors', 240]]);
    // Only the newest file was read for it.
    expect(disk.reads.filter((file) => file.endsWith('.jsonl'))).toHaveLength(1);
  });

  it('keeps what a full disk does not take, says so, and catches up by itself', async () => {
    const reports: { trouble: string | null; waiting: number }[] = [];
    const { disk, writer, start, settle, entries } = await setUp(undefined, {
      onState: ({ trouble, waiting }) => reports.push({ trouble, waiting }),
    });
    disk.fault = 'ENOSPC: no space left on device';
    const { say } = start();
    say(press('p1'), { kind: 'set', t: 1, key: 'value.night', value: 4 });
    await settle(600);
    expect([writer.state.trouble, entries()]).toEqual(['ENOSPC: no space left on device', []]);
    // The next engine is told what never reached the disk.
    expect(writer.leftBehind().values).toEqual([['value.night', 4]]);
    // It goes into two files: the first one is taken while the second one still waits.
    start();
    disk.fault = null;
    await settle(3000);
    expect(entries().map(({ kind }) => kind)).toEqual(['checkpoint', 'engine', 'press', 'set', 'checkpoint', 'engine']);
    // What was told last is how it is: nothing waits any more.
    expect([writer.state.waiting, reports.at(-1)]).toEqual([0, { trouble: null, waiting: 0 }]);
  });

  it('writes a piece whole that was cut off by a failing disk', async () => {
    const { disk, start, settle, entries } = await setUp();
    disk.failAfter = 30;
    const { say } = start();
    say(press('p1'));
    await settle(2000);
    expect(entries().map(({ kind }) => kind)).toEqual(['checkpoint', 'engine', 'press']);
  });

  it('leaves out single steps, and only those, once more waits than it may', async () => {
    const { disk, writer, start, settle, entries } = await setUp(undefined, { mostWaiting: 5000 });
    disk.fault = 'EIO';
    const { say } = start();
    for (let count = 0; count < 40; count += 1) say(step('r1'));
    say(press('p2'));
    expect(writer.state.dropped).toBeGreaterThan(20);
    disk.fault = null;
    await settle(3000);
    expect(entries().at(-1)).toMatchObject({ kind: 'press', pressId: 'p2' });
  });
});
