import type { Program } from '@umbek/core/engine';
import type { Change, ShowDocument } from '@umbek/core/show';
import { EngineHost } from '../apps/server/engine/engineHost';
import { ShowKeeper } from '../apps/server/engine/showKeeper';
import { JournalWriter } from '../apps/server/journal/journalWriter';
import { MemoryDisk } from '../apps/server/journal/memoryDisk';
import { BEAT_MS, BeatWatch } from '../apps/server/supervisor/beatWatch';
import { Guards, LENGTH_OVER } from '../apps/server/supervisor/guards';
import type { Chance } from './chance';
import type { SimNet } from './net';
import { type SimClock, SimProcess } from './processes';
import { MemoryCopy, MemoryStore, MemoryTravels, SimHelper } from './stores';

/** Files rotate early here, so that every seed meets a rotation. */
const ROTATE_AT = 64 * 1024;
/** From a death to the next engine: the process is made and reads its settings. */
const BIRTH_MS = 120;

/** The machine that runs Umbek: the parent with the disk, and one engine after another. */
export class SimMachine {
  readonly disk: MemoryDisk;
  readonly writer: JournalWriter;
  readonly store: MemoryStore;
  readonly copy: MemoryCopy;
  readonly guards: Guards;
  host: EngineHost | null = null;
  keeper: ShowKeeper | null = null;
  process: SimProcess | null = null;
  /** Times at which an engine began to serve. */
  readonly starts: number[] = [];
  /** Times of deaths and of hangs. */
  readonly deaths: number[] = [];
  deathsWhileMoving = 0;
  stopsByParent = 0;
  readonly errors: string[] = [];
  /** The parent ended a move since its stated length was over. */
  onLength: (device: string) => void = () => undefined;
  onUp: () => void = () => undefined;
  onDown: () => void = () => undefined;
  private watch: BeatWatch | null = null;
  private readonly travels: MemoryTravels;
  private stopSends = 0;
  private ended = false;

  constructor(
    readonly clock: SimClock,
    private readonly net: SimNet,
    chance: Chance,
    private readonly show: ShowDocument,
  ) {
    this.disk = new MemoryDisk(() => clock.pause(chance.between(0.2, 3)));
    this.writer = new JournalWriter(this.disk, clock, { rotateAt: ROTATE_AT });
    this.store = new MemoryStore(clock, () => chance.between(0.5, 8));
    this.copy = new MemoryCopy(clock);
    this.travels = new MemoryTravels(clock);
    this.guards = new Guards(
      clock,
      {
        send: (_host, port, datagrams, over) => {
          this.stopSends += 1;
          if (over !== undefined) return net.sendOver(port, datagrams, `parent:${this.stopSends}`);
          for (const bytes of datagrams) net.send(port, bytes, `parent:${this.stopSends}`);
        },
      },
      (device, why) => {
        this.stopsByParent += 1;
        if (why === LENGTH_OVER) this.onLength(device);
      },
    );
  }

  async begin(): Promise<void> {
    await this.writer.begin();
    this.start();
  }

  /** The engine is ended from outside, whatever it does. */
  kill(words: string): void {
    const { process } = this;
    if (process === null || !process.alive) return;
    this.deaths.push(this.clock.now());
    if (this.guards.moving.length > 0) this.deathsWhileMoving += 1;
    process.kill();
    this.watch?.close();
    this.host = null;
    this.keeper = null;
    this.onDown();
    this.guards.stopAll('the engine had ended');
    this.writer.engineEnded(words);
    if (!this.ended) this.clock.at(this.clock.now() + BIRTH_MS, () => this.start());
  }

  hang(ms: number): void {
    const { process } = this;
    if (process === null || !process.alive) return;
    this.deaths.push(this.clock.now());
    process.hang();
    this.clock.at(this.clock.now() + ms, () => process.alive && process.comeBack());
  }

  /** Orderly: as Ctrl-C does it. */
  async close(): Promise<void> {
    this.ended = true;
    await this.host?.close();
    this.process?.kill();
    this.watch?.close();
    this.guards.stopAll('the engine was ended');
    this.writer.engineEnded('The engine ended.');
  }

  private start(): void {
    const process = new SimProcess(
      this.clock,
      (error) => this.host?.trouble('somewhere', error) ?? this.errors.push(String(error)),
    );
    this.process = process;
    const epoch = this.writer.beginEpoch('begins');
    const left = this.writer.leftBehind();
    let ids = 0;
    const opened = ShowKeeper.open(
      this.store,
      this.copy,
      () => this.show,
      () => `seed-${(ids += 1)}`,
      (program, words) => this.host?.otherShow(program, words),
    );
    void process.own(opened).then(
      (keeper) => this.serve(process, keeper, epoch, left),
      (error: unknown) => {
        // Neither a database nor a copy: it is tried again, as the parent does.
        if (!process.alive) return;
        process.kill();
        this.errors.push(`start: ${String(error)}`);
        this.clock.at(this.clock.now() + 1000, () => this.start());
      },
    );
  }

  private serve(
    process: SimProcess,
    keeper: ShowKeeper,
    epoch: number,
    left: ReturnType<JournalWriter['leftBehind']>,
  ): void {
    const host = new EngineHost({
      clock: process.clock,
      network: this.net.side(process),
      helper: new SimHelper(this.clock, process),
      travels: this.travels,
      program: keeper.current(),
      epoch,
      left,
      sink: { write: (line) => process.alive && this.writer.accept(line) },
      guard: (device, move) => process.alive && this.guards.set(device, move),
      later: process.later,
    });
    this.host = host;
    this.keeper = keeper;
    this.watch = new BeatWatch(this.clock, {
      moving: () => this.guards.moving.length > 0,
      stopMoves: () => this.guards.stopAll('the engine had not beaten', true),
      hung: () => this.kill('It hung.'),
    });
    const beat = (): void => {
      this.watch?.beat();
      process.clock.at(process.clock.now() + BEAT_MS, beat);
    };
    host.open();
    beat();
    this.starts.push(this.clock.now());
    this.onUp();
  }

  /** An edit as a route makes it. @returns what became of it: stored, refused with a code, or nothing heard */
  async edit(editId: string, changes: readonly Change[], by: string): Promise<string> {
    const { host, keeper, process } = this;
    if (host === null || keeper === null || process === null) return 'down';
    const before = host.engine.program;
    const taken = await process.own(keeper.edit({ editId, label: 'An edit', by, changes: [...changes] }));
    if (!taken.ok) return taken.error[0]?.code ?? 'refused';
    const program: Program = taken.value;
    if (program !== host.engine.program)
      host.edited(program, program.revision === before.revision + 1 ? changes : undefined);
    return 'stored';
  }
}
