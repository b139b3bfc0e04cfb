import { type DeviceCommand, switcher } from '../devices/index';
import { VirtualClock } from '../rehearse/index';
import type { Button, Macro, PlainValue } from '../show/index';
import type { CommandEvent } from './devicePort';
import { Engine } from './engine';
import type { JournalEvent } from './journal';
import type { Taken } from './pressInput';
import { programOf, testShow } from './testShow';

/** A port whose answers the test gives by hand. */
export class HandPort {
  readonly sent: { id: string; command: DeviceCommand; tell: (event: CommandEvent) => void }[] = [];
  /** Places in `sent` of those that were taken back, as a driver drops what still waits in its queue. */
  readonly takenBack: number[] = [];

  send(id: string, sent: DeviceCommand, tell: (event: CommandEvent) => void): () => void {
    const at = this.sent.push({ id, command: sent, tell }) - 1;
    return () => this.takenBack.push(at);
  }

  answer(index: number, ...events: CommandEvent[]): void {
    for (const event of events) this.sent[index]?.tell(event);
  }

  names(): string[] {
    return this.sent.map((item) => item.command.command);
  }
}

export const done: CommandEvent = { type: 'outcome', outcome: 'done' };

/** An engine on virtual time whose devices are answered for by hand. Black is on air, and nothing else is seen. */
export function setUp(buttons: Button[], macros: Macro[] = [], restored?: ReadonlyMap<string, PlainValue>) {
  const clock = new VirtualClock(0, new Date('2026-08-12T20:00:00Z'));
  const entries: JournalEvent[] = [];
  const taken: Taken[] = [];
  let ids = 0;
  const engine = new Engine({
    clock,
    program: programOf(testShow(buttons, macros)),
    journal: { append: (entry) => entries.push(entry) },
    newId: () => `n${(ids += 1)}`,
    onTaken: (item) => taken.push(item),
    ...(restored === undefined ? {} : { restored }),
  });
  const ports = {
    deskCam: new HandPort(),
    lawnCam: new HandPort(),
    switcher: new HandPort(),
    captions: new HandPort(),
    lines: new HandPort(),
  };
  for (const [key, port] of Object.entries(ports)) {
    engine.attach(key, port);
    engine.newsOf(key).reached(true, 'here');
  }
  engine
    .newsOf('switcher')
    .points(switcher.startModel({ startProgram: 16, startPreview: 15 }, 0).step({ type: 'read', now: 0 }).points);
  const press = (item: Button, phase: 'down' | 'hold' | 'up' = 'down', more: Record<string, unknown> = {}) =>
    engine.press({ pressId: 'p1', buttonId: item.id, phase, station: 'desk', ...more });
  const ends = () =>
    entries.flatMap((entry) =>
      entry.kind === 'runEnd' ? [`${entry.how}${entry.why === undefined ? '' : `: ${entry.why}`}`] : [],
    );
  return { clock, engine, entries, taken, ports, press, ends };
}
