import { type Clock, LEASE_MS, type Program } from '@umbek/core/engine';
import { type GridKey, gridOf, gridPlaced, placedAt } from '@umbek/core/grid';
import { inOrder } from '@umbek/core/order';
import { type Button, errorsOf, type Station } from '@umbek/core/show';
import { pageOf, panelsFor, setOf, stationOf, stripsOn } from '@umbek/core/shown';
import { pictureWords, secondLine } from '@umbek/look';
import {
  type LiveFace,
  type LiveRun,
  type LiveServerMessage,
  PAD_PROTOCOL,
  type PadCap,
  type PadHello,
  PadMessage,
  type PadTelling,
} from '@umbek/protocol';
import { HERE, type Who } from '../access/who';
import { Allowance, LIMITS } from '../live/limits';
import type { LiveConnection, LiveDesk } from '../live/liveDesk';
import type { LiveClient } from '../live/liveRoom';
import type { PadPlaces } from './padPlaces';
import type { Painter } from './painter';

/** A name is shown for so long on the keys of a pad that somebody looks for. */
const FLASH_MS = 4000;
/** That a run failed stays on its key for so long. */
const FAILED_MS = 4000;
/** Touches that are remembered, so that a lifted finger lets go what it pressed. */
const TOUCHES = 64;
/** A pad that is so many bytes behind is told nothing new until it has caught up; it is looked for so often. */
const BEHIND_BYTES = 500_000;
const BEHIND_MS = 100;
/** Pictures that could not be drawn are asked for again after so long. */
const DRAWN_AGAIN_MS = 1000;
/** Caps that are drawn in one piece: the first are shown while others are still drawn. */
const DRAWN_AT_ONCE = 8;

export interface PadDeps {
  readonly desk: LiveDesk;
  readonly program: () => Program;
  readonly clock: Clock;
  readonly places: PadPlaces;
  readonly painter: Painter;
}

/** What turned a touch into a press. */
type Touch = { readonly button: string } | null;

/** What of its station a pad says hello with; empty: it acts as none. */
const claimOf = (station: Station | undefined): string =>
  station === undefined ? '' : `${station.id} ${station.linkGroup}`;

/** A pad: a page without a browser. It shows the caps of a panel, laid on its keys, and presses as a page presses. */
export class Pad implements LiveClient {
  private hello: PadHello | null = null;
  private readonly page: LiveConnection | null;
  private readonly messages: Allowance;
  private toldSlow = -Infinity;
  /** Station and link group with which it said hello. */
  private claimed = '';
  private ended = false;
  /** Panel and its page that were asked for; null: those of its station. */
  private asked: { readonly panel: string; readonly page: string } | null = null;
  private shift = false;
  private at = 0;
  private keys: readonly (readonly GridKey[])[] = [];
  private strips: readonly string[] = [];
  private panel: string | null = null;
  private readonly faces = new Map<string, LiveFace>();
  private readonly working = new Set<string>();
  private readonly failed = new Map<string, string>();
  private readonly touches = new Map<string, Touch>();
  private lastSent: string[] = [];
  private wholeDue = false;
  private telling = false;

  constructor(
    private readonly socket: LiveClient,
    private readonly deps: PadDeps,
    who: Who = HERE,
  ) {
    this.messages = new Allowance(deps.clock, LIMITS.messagesASecond, LIMITS.messagesAtOnce);
    this.page = deps.desk.connect(this, who, () => this.hello ?? undefined);
  }

  /** False: there are too many pages and pads already, and it was told so. */
  get isIn(): boolean {
    return this.page !== null;
  }

  /** What the pad says. */
  message(text: string): void {
    if (this.ended) return;
    if (!this.messages.allow()) return this.slow();
    const message = this.parse(text);
    if (message === null) return;
    if (message.type === 'hello') return this.begin(message);
    if (this.page === null || this.hello === null)
      return this.error('no-hello', 'This pad has not said what it is.', 'Send hello first.');
    switch (message.type) {
      case 'time':
        return this.say({ type: 'time', sent: message.sent, engine: this.deps.clock.now() });
      case 'shift':
        this.shift = message.on;
        return this.lay();
      case 'down':
        return this.down(message.press, message.key, message.at);
      default:
        return this.goesOn(message.press, message.type);
    }
  }

  closed(): void {
    this.ended = true;
    this.page?.closed();
  }

  /** Its place is another one, or its station is not what it was. */
  placed(): void {
    if (this.hello !== null) this.begin(this.hello);
  }

  get serial(): string | null {
    return this.hello?.serial ?? null;
  }

  // What the engine tells a page.

  get bufferedAmount(): number {
    return this.socket.bufferedAmount;
  }

  close(): void {
    this.socket.close();
  }

  send(text: string): void {
    if (this.ended) return;
    const message = JSON.parse(text) as LiveServerMessage;
    switch (message.type) {
      case 'snapshot':
        this.faces.clear();
        this.working.clear();
        this.show(message.faces);
        message.runs.forEach((run) => this.run(run));
        return this.lay();
      case 'changes': {
        this.show(message.faces ?? {});
        message.runs?.forEach((run) => this.run(run));
        return message.revision === undefined ? void this.tell() : this.lay();
      }
      case 'run':
        this.run(message.run);
        return void this.tell();
      case 'answer': {
        const { pressId, phase, accepted, error } = message;
        if (!accepted) this.touches.delete(pressId);
        return this.answer(pressId, phase as 'down', accepted, error);
      }
      case 'show':
        this.asked = { panel: message.panel, page: message.page };
        this.at = 0;
        return this.lay();
      case 'taken':
        if (!message.mine) this.touches.delete(message.pressId);
        return this.say({ type: 'taken', press: message.pressId, mine: message.mine, words: message.words });
      case 'flash':
        return this.say({ type: 'flash', name: message.name, forMs: FLASH_MS });
      case 'error':
        return this.error(message.error.code, message.error.message, message.error.mend);
      default:
        return undefined;
    }
  }

  private show(faces: Readonly<Record<string, LiveFace>>): void {
    for (const [id, face] of Object.entries(faces)) this.faces.set(id, face);
  }

  private run({ buttonId, ended }: LiveRun): void {
    if (buttonId === undefined) return;
    if (ended === undefined) {
      this.working.add(buttonId);
      this.failed.delete(buttonId);
      return;
    }
    this.working.delete(buttonId);
    if (ended.how !== 'failed') return;
    const why = ended.why ?? 'failed';
    this.failed.set(buttonId, why);
    const { clock } = this.deps;
    clock.at(clock.now() + FAILED_MS, () => {
      if (this.failed.get(buttonId) !== why || this.ended) return;
      this.failed.delete(buttonId);
      void this.tell();
    });
  }

  private begin(hello: PadHello): void {
    const { places, clock, program } = this.deps;
    const claims = places.of(hello.serial);
    const station = stationOf(program().document, claims);
    this.hello = hello;
    this.claimed = claimOf(station);
    this.say({
      type: 'welcome',
      protocol: PAD_PROTOCOL,
      leaseMs: LEASE_MS,
      station: station?.name ?? null,
      engine: clock.now(),
    });
    this.lastSent = [];
    this.wholeDue = true;
    this.at = 0;
    this.asked = null;
    this.strips = [];
    // What the page is told at its hello lays the keys.
    this.page?.message(
      JSON.stringify({ type: 'hello', station: hello.name, claims, shows: { strips: [], scopes: [] } }),
    );
  }

  /** Lays the panel on the keys, and asks to be told of the strips that are seen. */
  private lay(): void {
    if (this.hello === null || this.page === null) return;
    const { document } = this.deps.program();
    const { columns, rows, serial } = this.hello;
    const station = stationOf(document, this.deps.places.of(serial));
    if (claimOf(station) !== this.claimed) return this.begin(this.hello);
    // A pad without a place shows nothing: which panel would be a guess.
    const allowed = station === undefined ? [] : panelsFor(inOrder(document.panels), station);
    const panel =
      allowed.find(({ id }) => id === (this.asked?.panel ?? station?.opensOn)) ??
      allowed.find(({ id }) => id === station?.opensOn) ??
      allowed[0];
    const strips =
      panel === undefined
        ? []
        : inOrder(stripsOn(document, panel.id, pageOf(panel, this.asked?.page ?? null)?.id ?? null, station));
    const buttons = new Map<string, Button[]>(strips.map(({ id }) => [id, []]));
    for (const button of document.buttons) buttons.get(button.stripId)?.push(button);
    const placed = placedAt(station, panel?.id, columns, rows);
    const all = panel === undefined ? [] : document.strips.filter(({ panelId }) => panelId === panel.id);
    this.keys =
      placed === undefined
        ? gridOf(
            strips.map(({ id }) => setOf(inOrder(buttons.get(id) ?? []), this.shift).map((button) => button.id)),
            columns,
            rows,
          )
        : gridPlaced(placed, (id) => this.deps.program().buttons.has(id));
    this.at = Math.min(this.at, this.keys.length - 1);
    // Keys that were placed by hand may show any strip of the panel.
    const ids = (placed === undefined ? strips : all).map(({ id }) => id);
    if (ids.join(' ') !== this.strips.join(' ') || panel?.id !== this.panel) {
      this.strips = ids;
      this.panel = panel?.id ?? null;
      this.page.message(JSON.stringify({ type: 'shows', panel: this.panel, strips: ids, scopes: [] }));
    }
    void this.tell();
  }

  private down(press: string, key: number, at: number | undefined): void {
    if (this.touches.has(press)) return this.again(press, at);
    const cell = this.keys[this.at]?.[key] ?? null;
    if (cell === null) return this.answer(press, 'down', false, { message: 'Nothing stands on this key.', mend: '' });
    if ('turn' in cell) {
      this.remember(press, null);
      this.at = (this.at + 1) % this.keys.length;
      this.answer(press, 'down', true);
      return void this.tell();
    }
    const button = this.deps.program().buttons.get(cell.button);
    if (button?.dial?.by === 0)
      return this.answer(press, 'down', false, {
        message: `${button.legend} is turned by dragging, and a key cannot.`,
        mend: 'Give it steps in the Bench, or turn it on a screen.',
      });
    this.failed.delete(cell.button);
    this.remember(press, cell);
    this.pass(press, 'down', cell.button, at);
  }

  /** A touch that came twice is asked for again as it was. */
  private again(press: string, at: number | undefined): void {
    const touch = this.touches.get(press) ?? null;
    if (touch === null) this.answer(press, 'down', true);
    else this.pass(press, 'down', touch.button, at);
  }

  private goesOn(press: string, phase: 'hold' | 'up'): void {
    const touch = this.touches.get(press);
    if (phase === 'up') this.touches.delete(press);
    // Of a key that turned the page, or of a touch that was refused, nothing is left to hold.
    if (touch !== undefined && touch !== null) this.pass(press, phase, touch.button);
  }

  private pass(pressId: string, phase: 'down' | 'hold' | 'up', buttonId: string, at?: number): void {
    const dial = phase === 'down' ? this.deps.program().buttons.get(buttonId)?.dial : undefined;
    const now = this.faces.get(buttonId)?.value;
    const value =
      dial === undefined || dial === null || now === undefined
        ? undefined
        : Math.min(dial.max, Math.max(dial.min, now + dial.by));
    this.page?.message(
      JSON.stringify({
        type: 'press',
        pressId,
        buttonId,
        phase,
        ...(at === undefined ? {} : { at }),
        ...(value === undefined ? {} : { value }),
      }),
    );
  }

  private remember(press: string, touch: Touch): void {
    this.touches.set(press, touch);
    const [first] = this.touches.keys();
    if (this.touches.size > TOUCHES && first !== undefined) this.touches.delete(first);
  }

  /** Tells what changed on the keys, one telling at a time: what changes meanwhile is told with the next. */
  private async tell(): Promise<void> {
    if (this.telling || this.ended || this.hello === null) return;
    this.telling = true;
    try {
      for (let caps = this.due(); caps.length > 0 || this.wholeDue; caps = this.due()) {
        if (this.socket.bufferedAmount > BEHIND_BYTES) {
          const { clock } = this.deps;
          clock.at(clock.now() + BEHIND_MS, () => void this.tell());
          break;
        }
        const whole = this.wholeDue;
        this.wholeDue = false;
        for (const cap of caps) this.lastSent[cap.key] = JSON.stringify(cap);
        await this.tellCaps(caps, whole);
        if (this.ended) break;
      }
    } finally {
      this.telling = false;
    }
  }

  private async tellCaps(caps: readonly PadCap[], whole: boolean): Promise<void> {
    const head = {
      type: 'caps' as const,
      panel: this.deps.program().document.panels.find(({ id }) => id === this.panel)?.name ?? null,
      page: this.at + 1,
      pages: this.keys.length,
    };
    const size = this.hello?.picture ?? null;
    if (size === null) return this.say({ ...head, whole, caps: [...caps] });
    const parts = Array.from({ length: Math.ceil(caps.length / DRAWN_AT_ONCE) }, (_none, at) =>
      caps.slice(at * DRAWN_AT_ONCE, (at + 1) * DRAWN_AT_ONCE),
    );
    // All of them are asked for at once: the painter goes on while what it has drawn is sent.
    const drawing = parts.map((part) =>
      this.deps.painter.paint(
        part.map(({ key: _key, holds: _holds, ...cap }) => cap),
        size,
      ),
    );
    for (const [at, part] of parts.entries()) {
      const pictures = (await drawing[at]) ?? null;
      if (pictures === null) this.drawAgain(part);
      // Whatever cannot be drawn is told in words.
      const drawn = part.map((cap, index) => ({
        ...cap,
        ...(pictures?.[index] ? { picture: pictures[index] } : {}),
      }));
      if (this.ended) return;
      this.say({ ...head, whole: whole && parts.length === 1, caps: drawn });
    }
  }

  /** What could be told in words alone is drawn when the painter is back. */
  private drawAgain(caps: readonly PadCap[]): void {
    const { clock } = this.deps;
    clock.at(clock.now() + DRAWN_AGAIN_MS, () => {
      for (const cap of caps) if (this.lastSent[cap.key] === JSON.stringify(cap)) this.lastSent[cap.key] = '';
      void this.tell();
    });
  }

  /** The caps that are not yet told as they are. */
  private due(): PadCap[] {
    const keys = this.keys[this.at] ?? [];
    return keys.flatMap((cell, key) => {
      const cap = this.capOf(cell, key);
      return this.lastSent[key] === JSON.stringify(cap) ? [] : [cap];
    });
  }

  private capOf(cell: GridKey, key: number): PadCap {
    const blank: PadCap = { key, legend: '', note: '', family: null, lamp: null, lost: false, holds: false };
    if (cell === null) {
      return this.claimed !== '' || key > 0 ? blank : { ...blank, legend: 'Give it a place', note: 'Rig, Stations' };
    }
    if ('turn' in cell) return { ...blank, legend: 'More', note: `${this.at + 1} of ${this.keys.length}` };
    const { buttons, document } = this.deps.program();
    const button = buttons.get(cell.button);
    const face = this.faces.get(cell.button);
    if (button === undefined || face?.away === true) return blank;
    const failed = this.failed.get(cell.button);
    const lamp =
      failed !== undefined
        ? 'failed'
        : this.working.has(cell.button)
          ? 'working'
          : ((face?.sign ?? null) as PadCap['lamp']);
    const note =
      failed ??
      (face?.lost === true
        ? 'no answer'
        : face?.picture !== undefined
          ? pictureWords[face.picture]
          : secondLine(lamp, button.note, face?.note));
    return {
      key,
      legend: face?.legend ?? button.legend.replace(/\{\{.*?\}\}/gs, '–'),
      note,
      family: button.family ?? document.strips.find(({ id }) => id === button.stripId)?.family ?? 'stone',
      lamp,
      lost: face?.lost === true,
      holds: button.mode === 'hold',
    };
  }

  private answer(
    press: string,
    phase: 'down' | 'hold' | 'up',
    accepted: boolean,
    error?: { readonly message: string; readonly mend: string },
  ): void {
    this.say({
      type: 'answer',
      press,
      phase,
      accepted,
      ...(error === undefined ? {} : { words: error.message, mend: error.mend }),
    });
  }

  private slow(): void {
    const now = this.deps.clock.now();
    if (now - this.toldSlow < 1000) return;
    this.toldSlow = now;
    this.error(
      'slow-down',
      `More than ${LIMITS.messagesASecond} messages a second came from this pad.`,
      'Send less at a time; what came too much was not done.',
    );
  }

  private error(code: string, words: string, mend: string): void {
    this.say({ type: 'error', code, words, mend });
  }

  private say(message: PadTelling): void {
    this.socket.send(JSON.stringify(message));
  }

  private parse(text: string): PadMessage | null {
    let message: unknown;
    try {
      message = JSON.parse(text);
    } catch {
      this.error('bad-json', 'This is not JSON.', 'Send one JSON object a message.');
      return null;
    }
    const { type, protocol } = (typeof message === 'object' && message !== null ? message : {}) as {
      type?: unknown;
      protocol?: unknown;
    };
    // Before its fields are looked at: those of another protocol may be others.
    if (type === 'hello' && typeof protocol === 'number' && protocol !== PAD_PROTOCOL) {
      const old = protocol < PAD_PROTOCOL;
      this.error(
        old ? 'pad-too-old' : 'pad-too-new',
        `This pad speaks protocol ${protocol}, and Umbek speaks ${PAD_PROTOCOL}.`,
        old ? 'Update the program of the pad.' : 'Update Umbek.',
      );
      this.close();
      return null;
    }
    const parsed = PadMessage.safeParse(message);
    if (parsed.success) return parsed.data;
    const [error] = errorsOf(parsed.error);
    this.error('bad-field', error?.message ?? 'Not a message.', error?.mend ?? 'Correct it.');
    return null;
  }
}
