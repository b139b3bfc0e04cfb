import type { DeviceCommand } from '@umbek/core/devices';
import type { Cancel, CommandEvent } from '@umbek/core/engine';
import { type Display, encodeTally, type Lamp } from '@umbek/wire/tsl';
import type { ByteContext, Driver, LinkState } from './context';

/** What the displays are told: every source that has an input, and where it is. */
export interface TallySource {
  readonly input: number;
  readonly name: string;
  readonly onProgram: boolean;
  readonly onPreview: boolean;
}

/** Everything is told again so often: a packet may have been lost, a display switched on later. */
const AGAIN_MS = 1000;
/** A refused packet is remembered for so long. */
const REFUSED_MS = 2500;

const lampOf = ({ onProgram, onPreview }: TallySource): Lamp => (onProgram ? 'red' : onPreview ? 'green' : 'off');

/** The displays for sources: number is the input, both side lamps and the text's tell where the source is. */
export const displaysOf = (sources: readonly TallySource[], brightness: number): Display[] =>
  sources.map((source) => ({
    index: source.input,
    text: source.name,
    left: lampOf(source),
    textLamp: lampOf(source),
    right: lampOf(source),
    brightness,
  }));

/** Tally displays behind TSL UMD 5.0. They never answer: "reached" means that packets go out and the machine reports no closed port. */
export class TallyDriver implements Driver {
  readonly malformed = 0;
  readonly lastHeard = null;
  state: LinkState = 'off';
  private refusedAt = -Infinity;
  private cancel: Cancel = () => undefined;
  private lastSent = '';
  private opened = false;

  constructor(
    private readonly settings: { readonly screen: number; readonly brightness: number },
    private readonly context: ByteContext,
    private readonly sources: () => readonly TallySource[],
  ) {}

  get words(): string {
    const { title } = this.context;
    return this.state === 'reached'
      ? `${title} only receives: its protocol has no answers.`
      : `Nothing takes the packets at ${title}. Check power and port.`;
  }

  open(): void {
    this.opened = true;
    this.again();
  }

  close(): void {
    this.opened = false;
    this.cancel();
    this.state = 'off';
  }

  unreachable(): void {
    this.refusedAt = this.context.clock.now();
    this.set('silent');
  }

  /** A switcher's state or a name changed: told at once, when it makes a difference. */
  changed(): void {
    if (this.state === 'off' && !this.opened) return;
    const displays = displaysOf(this.sources(), this.settings.brightness);
    const text = JSON.stringify(displays);
    if (text === this.lastSent) return;
    this.lastSent = text;
    for (const packet of encodeTally(displays, this.settings.screen)) this.context.transmit(packet);
  }

  send(_id: string, _command: DeviceCommand, onEvent: (event: CommandEvent) => void): Cancel {
    const { clock } = this.context;
    return clock.at(clock.now(), () =>
      onEvent({ type: 'outcome', outcome: 'refused', why: 'The displays take no commands.' }),
    );
  }

  private again(): void {
    const { clock } = this.context;
    this.lastSent = '';
    this.changed();
    if (clock.now() - this.refusedAt > REFUSED_MS) this.set('reached');
    this.cancel = clock.at(clock.now() + AGAIN_MS, () => this.again());
  }

  private set(state: LinkState): void {
    if (this.state === state) return;
    this.state = state;
    this.context.news.reached(state === 'reached', this.words);
  }
}
