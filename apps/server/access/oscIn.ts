import { GEAR_RANK } from './who';
import { createSocket, type Socket } from 'node:dgram';
import { type Clock, LEASE_MS, type PressAnswer, type PressInput, type Program } from '@umbek/core/engine';
import type { PlainValue } from '@umbek/core/show';
import type { OscHeard } from '@umbek/protocol';
import { decodeOsc, encodeOsc, type OscMessage, type OscValue, type ReceivedMessage } from '@umbek/wire/osc';
import { ulid } from 'ulid';
import { Allowance } from '../live/limits';
import { gearRun } from './gearRun';
import type { KeptToken } from './tokenStore';
import type { Tokens } from './tokens';

export const OSC_LIMITS = {
  /** Bytes of a datagram, and messages in it. */
  bytes: 1500,
  messages: 32,
  /** Messages of one token a second, and so many at once: a fader sends some fifty. */
  messagesASecond: 200,
  messagesAtOnce: 400,
  /** Datagrams a second that are looked at; beyond them the port is closed for a moment. */
  datagramsASecond: 2000,
  closedMs: 1000,
  /** The same message from the same sender within this time is one that the network doubled. */
  twiceMs: 50,
  /** What is held by messages at one time. */
  held: 100,
} as const;

/** `/umbek/<token>/macro/<number>` or `/umbek/<token>/button/<id>`. */
const ADDRESS =
  /^\/umbek\/([A-Za-z0-9_-]{1,100})\/(macro|button|trigger)\/([A-Za-z0-9]{1,40}(?:\/(?:fire|arm|disarm))?)$/;

export interface Sender {
  readonly address: string;
  readonly port: number;
}

/** What a message brings: nothing to say, or words for its sender. */
type Took = OscMessage | null;

const accepted = (runId: string | null): OscMessage => ({
  address: '/umbek/accepted',
  args: [{ type: 's', value: runId ?? '' }],
});
const refused = (words: string, mend: string): OscMessage => ({
  address: '/umbek/refused',
  args: [
    { type: 's', value: words },
    { type: 's', value: mend },
  ],
});

interface Held {
  readonly press: Omit<PressInput, 'phase'>;
  renewedAt: number;
}

/**
 * What OSC messages of other gear do, whatever carries them. A message runs a macro, its arguments in the order of the macro's parameters; or
 * presses a button, where a first argument of 0 is the finger that lifts. A held button is held by the same message again within the lease and
 * ends without it; one that is turned takes its value as the argument.
 */
export class OscMessages {
  private readonly held = new Map<string, Held>();
  private readonly lately = new Map<string, number>();
  private readonly allowances = new Map<string, Allowance>();
  private notDone: { from: string; words: string; at: number } | null = null;

  constructor(
    private readonly deps: {
      readonly tokens: Tokens;
      readonly clock: Clock;
      readonly program: () => Program;
      readonly press: (input: PressInput) => PressAnswer;
    },
  ) {}

  /** @returns what the sender is told, a message each; nothing to whoever has no token: it would be a mirror for floods, and tell guesses apart */
  receive(bytes: Uint8Array, from: Sender): OscMessage[] {
    if (bytes.byteLength > OSC_LIMITS.bytes)
      return this.silent(from, `a datagram of more than ${OSC_LIMITS.bytes} bytes`);
    const found = decodeOsc(bytes);
    if (!found.ok) return this.silent(from, `not OSC: ${found.error.message}`);
    if (found.value.length > OSC_LIMITS.messages)
      return this.silent(from, `more than ${OSC_LIMITS.messages} messages in one bundle`);
    return found.value.flatMap((message) => this.message(message, from) ?? []);
  }

  /** What it runs is gone: whatever it holds is let go. */
  revoked(tokenId: string): void {
    for (const [key, held] of this.held) if (key.startsWith(`${tokenId} `)) this.letGo(key, held);
    this.allowances.delete(tokenId);
  }

  summary(): OscHeard['notDone'] {
    if (this.notDone === null) return null;
    const { from, words, at } = this.notDone;
    return { from, words, agoMs: Math.round(this.deps.clock.now() - at) };
  }

  flooded(from: Sender): void {
    this.silent(from, `more than ${OSC_LIMITS.datagramsASecond} messages a second; the port was closed for a second`);
  }

  private silent({ address }: Sender, words: string): OscMessage[] {
    this.notDone = { from: address, words, at: this.deps.clock.now() };
    return [];
  }

  private message(message: ReceivedMessage, from: Sender): Took {
    const [, secret = '', what = '', name = ''] = ADDRESS.exec(message.address) ?? [];
    if (secret === '') {
      this.silent(
        from,
        'an address that does not begin with /umbek/ and a token, or does not go on with macro/, button/ or trigger/',
      );
      return null;
    }
    const { tokens, clock } = this.deps;
    const found = tokens.know(secret, from.address, 'osc');
    if (found.kind !== 'token') {
      const words =
        found.kind === 'not-yet'
          ? 'the database does not answer yet, so no token is known'
          : 'a token that is not known here, or was revoked. Make another one, and give the sender its address';
      this.silent(from, words);
      return null;
    }
    const { token } = found;
    let allowance = this.allowances.get(token.id);
    if (allowance === undefined) {
      allowance = new Allowance(clock, OSC_LIMITS.messagesASecond, OSC_LIMITS.messagesAtOnce);
      this.allowances.set(token.id, allowance);
    }
    if (!allowance.allow()) {
      this.silent(from, `more than ${OSC_LIMITS.messagesASecond} messages a second of ${token.name}`);
      return null;
    }
    const reply =
      what === 'macro'
        ? this.macro(token, name, message, from)
        : what === 'trigger'
          ? this.trigger(token, name, message, from)
          : this.button(token, name, message, from);
    if (reply?.address === '/umbek/refused') {
      const [words] = reply.args;
      this.silent(from, `${token.name}: ${String(words?.value)}`);
    }
    return reply;
  }

  private macro(token: KeptToken, name: string, message: ReceivedMessage, from: Sender): Took {
    const { program } = this.deps;
    const found = gearRun(token, { macro: /^\d{1,5}$/.test(name) ? Number(name) : name }, program());
    if ('error' in found) return refused(found.error.message, found.error.mend);
    if (!('macro' in found)) return null;
    const { params, number } = found.macro;
    if (message.values.length > params.length)
      return refused(
        `Macro ${number} takes ${params.length === 0 ? 'no argument' : `${params.length} at the most`}, and ${message.values.length} came.`,
        params.length === 0
          ? 'Send it without arguments.'
          : `Send ${params.map(({ key }) => key).join(', ')}, in this order.`,
      );
    const given: Record<string, PlainValue> = {};
    for (const [index, { key, start }] of params.entries()) {
      const value = message.values[index];
      if (value === undefined) break;
      const plain = plainOf(value, start);
      if (plain === undefined)
        return refused(
          `Macro ${number} wants ${wordsOf(start)} as ${key}, and ${JSON.stringify(value)} came.`,
          'Mend the argument and its type.',
        );
      given[key] = plain;
    }
    return this.once(token, found.id, message, from, message.values.length === 0 ? {} : { given });
  }

  /** Of a trigger the address says what is done to it, after its id; left out: it fires. */
  private trigger(token: KeptToken, name: string, message: ReceivedMessage, from: Sender): Took {
    const [id = '', does = 'fire'] = name.split('/');
    const found = gearRun(token, { trigger: id, does: does as 'fire' | 'arm' | 'disarm' }, this.deps.program());
    if ('error' in found) return refused(found.error.message, found.error.mend);
    // A pad that sends 0 as it is let go fires nothing a second time.
    const [first] = message.values;
    return first === 0 || first === false ? null : this.once(token, found.id, message, from, {});
  }

  private button(token: KeptToken, name: string, message: ReceivedMessage, from: Sender): Took {
    const found = gearRun(token, { button: name }, this.deps.program());
    if ('error' in found) return refused(found.error.message, found.error.mend);
    if (!('button' in found)) return null;
    const { button } = found;
    const [first] = message.values;
    if (button.dial !== null) {
      if (typeof first !== 'number' || !Number.isFinite(first))
        return refused(`${button.legend} is turned to a number, and none came.`, 'Send the number as the argument.');
      return this.hold(token, found.id, first);
    }
    const lifted = first === 0 || first === false;
    if (button.mode === 'hold') return lifted ? this.lift(token, found.id) : this.hold(token, found.id);
    return lifted ? null : this.once(token, found.id, message, from, {});
  }

  /** Pressed and let go. */
  private once(
    token: KeptToken,
    id: string,
    message: ReceivedMessage,
    from: Sender,
    more: Pick<PressInput, 'given'>,
  ): Took {
    if (this.cameTwice(`${from.address}:${from.port} ${JSON.stringify(message)}`)) return null;
    const { tokens, press } = this.deps;
    if (!tokens.spend(token.id)) return refused('More runs a second came than a token may.', 'Send less at a time.');
    const input = { pressId: ulid(), buttonId: id, station: token.name, rank: GEAR_RANK, ...more };
    const answer = press({ ...input, phase: 'down' });
    press({ ...input, phase: 'up' });
    return answer.accepted ? accepted(answer.runId) : refused(answer.error.message, answer.error.mend);
  }

  private cameTwice(what: string): boolean {
    const now = this.deps.clock.now();
    for (const [item, at] of this.lately) {
      if (at > now - OSC_LIMITS.twiceMs) break;
      this.lately.delete(item);
    }
    if (this.lately.has(what)) return true;
    this.lately.set(what, now);
    return false;
  }

  private hold(token: KeptToken, id: string, value?: number): Took {
    const { clock, tokens, press } = this.deps;
    const turned = value === undefined ? {} : { value };
    const key = `${token.id} ${id}`;
    const before = this.held.get(key);
    if (before !== undefined && clock.now() - before.renewedAt < LEASE_MS) {
      before.renewedAt = clock.now();
      // It may have ended meanwhile: stopped, or its button was edited. Whoever still holds it then holds nothing.
      const answer = press({ ...before.press, ...turned, phase: 'hold' });
      return answer.accepted ? null : refused(answer.error.message, answer.error.mend);
    }
    if (this.held.size >= OSC_LIMITS.held)
      return refused(`More than ${OSC_LIMITS.held} buttons are held by messages.`, 'Lift fingers from some of them.');
    if (!tokens.spend(token.id)) return refused('More runs a second came than a token may.', 'Send less at a time.');
    const held: Held = {
      press: { pressId: ulid(), buttonId: id, station: token.name, rank: GEAR_RANK },
      renewedAt: clock.now(),
    };
    const answer = press({ ...held.press, ...turned, phase: 'down' });
    if (!answer.accepted) return refused(answer.error.message, answer.error.mend);
    this.held.set(key, held);
    this.watch(key, held);
    return accepted(answer.runId);
  }

  private lift(token: KeptToken, id: string): Took {
    const key = `${token.id} ${id}`;
    const held = this.held.get(key);
    if (held !== undefined) this.letGo(key, held);
    return null;
  }

  private letGo(key: string, held: Held): void {
    this.held.delete(key);
    this.deps.press({ ...held.press, phase: 'up' });
  }

  /** Ends with its lease: a sender that was switched off, or a message that was lost, holds nothing on. */
  private watch(key: string, held: Held): void {
    const { clock } = this.deps;
    clock.at(held.renewedAt + LEASE_MS, () => {
      if (this.held.get(key) !== held) return;
      if (clock.now() - held.renewedAt < LEASE_MS) this.watch(key, held);
      else this.letGo(key, held);
    });
  }
}

const wordsOf = (start: unknown): string =>
  typeof start === 'number' ? 'a number' : typeof start === 'boolean' ? 'yes or no' : 'a text';

/** An OSC argument as the value of a parameter that begins with `start`; undefined: it does not fit. Senders without T and F send 1 and 0. */
function plainOf(value: OscValue, start: unknown): PlainValue | undefined {
  if (typeof value === 'number' && !Number.isFinite(value)) return undefined;
  if (typeof start === 'boolean')
    return typeof value === 'boolean' ? value : value === 0 || value === 1 ? value === 1 : undefined;
  if (typeof start === 'number' || typeof start === 'string') return typeof value === typeof start ? value : undefined;
  return value;
}

/** The UDP port on which other gear speaks OSC: open only while there is a token for it. */
export class OscIn {
  private socket: Socket | null = null;
  private trouble: string | null = null;
  private closed = false;
  private datagrams: Allowance;
  private work: Promise<void> = Promise.resolve();

  constructor(
    private readonly config: { readonly port: number; readonly host: string },
    private readonly messages: OscMessages,
    private readonly deps: {
      readonly tokens: Tokens;
      readonly clock: Clock;
      readonly addresses: () => string[];
      readonly onTrouble: (error: unknown) => void;
    },
  ) {
    this.datagrams = this.fresh();
  }

  private fresh(): Allowance {
    return new Allowance(this.deps.clock, OSC_LIMITS.datagramsASecond, OSC_LIMITS.datagramsASecond);
  }

  /** Opens or closes the port as there are tokens for it. */
  follow(): Promise<void> {
    this.work = this.work.then(() => this.lookAtOnce()).catch((error: unknown) => this.deps.onTrouble(error));
    return this.work;
  }

  revoked(tokenId: string): void {
    this.messages.revoked(tokenId);
    void this.follow();
  }

  summary(): OscHeard {
    return {
      port: this.socket?.address().port ?? null,
      addresses: this.deps.addresses(),
      trouble: this.trouble,
      notDone: this.messages.summary(),
    };
  }

  close(): void {
    this.closed = true;
    this.shut();
  }

  private shut(): void {
    this.socket?.close();
    this.socket = null;
  }

  private async lookAtOnce(): Promise<void> {
    const wanted = !this.closed && this.deps.tokens.has('osc');
    if (!wanted) {
      this.trouble = null;
      return this.shut();
    }
    if (this.socket !== null) return;
    const socket = createSocket('udp4');
    try {
      await new Promise<void>((bound, failed) => {
        socket.once('error', failed);
        socket.bind(this.config.port, this.config.host, () => bound());
      });
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException;
      this.trouble =
        code === 'EADDRINUSE'
          ? `UDP port ${this.config.port} is taken by another program. End it, or set UMBEK_OSC_PORT to another port and start Umbek again.`
          : `UDP port ${this.config.port} cannot be opened: ${String(code)}.`;
      return;
    }
    this.trouble = null;
    socket.on('error', (error) => this.deps.onTrouble(error));
    socket.on('message', (bytes, from) => this.datagram(socket, bytes, from));
    if (this.closed) socket.close();
    else this.socket = socket;
  }

  private datagram(socket: Socket, bytes: Buffer, from: Sender): void {
    if (this.socket !== socket) return;
    if (!this.datagrams.allow()) return this.flooded(from);
    try {
      for (const reply of this.messages.receive(bytes, from))
        socket.send(encodeOsc([reply]), from.port, from.address, () => undefined);
    } catch (error) {
      this.deps.onTrouble(error);
    }
  }

  /** Each datagram costs, also one that is thrown away: the show comes first. */
  private flooded(from: Sender): void {
    this.messages.flooded(from);
    this.shut();
    this.deps.clock.at(this.deps.clock.now() + OSC_LIMITS.closedMs, () => {
      this.datagrams = this.fresh();
      void this.follow();
    });
  }
}
