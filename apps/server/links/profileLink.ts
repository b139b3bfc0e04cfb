import { createSocket } from 'node:dgram';
import { Agent, request } from 'node:http';
import { createConnection, type Socket } from 'node:net';
import { compileProfile, type CompiledProfile, type Incoming, type Outgoing } from '@umbek/core/profile';
import type { ProfileFile } from '@umbek/core/show';
import { encodeMidi, MidiReader } from '@umbek/wire/midi';
import { decodeOsc, encodeOsc } from '@umbek/wire/osc';
import { WebSocket } from 'ws';
import { ProfileDriver, type ProfileContext, type SendResult } from '../drivers/profileDriver';
import type { Link, LinkDependencies } from './link';

/** A message or line longer than this is none that a profile means. */
const LONGEST = 100_000;
const ANSWER_LIMIT_MS = 1500;

/** One of the ways that profiles speak, opened to one address. */
interface Wire {
  connect(): void;
  send(message: Outgoing, beat: boolean, then: (result: SendResult) => void): void;
  close(): void;
}

interface WireDependencies extends LinkDependencies {
  readonly compiled: CompiledProfile;
  readonly driver: () => ProfileDriver;
  /** Work that came from outside, in the engine's own turn. */
  readonly inTurn: (work: () => void) => void;
}

/** Bytes of a message on a byte wire. */
function bytesOf(message: Outgoing, ending: string): Uint8Array {
  switch (message.as) {
    case 'osc':
      return encodeOsc([{ address: message.address, args: message.args as never }]);
    case 'text':
      return Buffer.from(message.text + ending);
    case 'bytes':
      return message.bytes;
    case 'midi':
      return encodeMidi(message);
    case 'http':
      return Buffer.alloc(0);
  }
}

/** What bytes from the device mean, for the transport at hand: lines, whole messages, OSC or MIDI. Each is told as text and as bytes, for patterns over either. */
function makeReader(profile: ProfileFile): (bytes: Uint8Array) => Incoming[] | null {
  const { transport } = profile;
  if (transport.kind === 'osc') {
    return (bytes) => {
      const decoded = decodeOsc(bytes);
      return decoded.ok ? decoded.value.map((message) => ({ as: 'osc', ...message })) : null;
    };
  }
  if (transport.kind === 'midi') {
    const midi = new MidiReader();
    return (bytes) => midi.push(bytes).map((message) => ({ as: 'midi', ...message }));
  }
  const wantsBytes = profile.points.some((point) => point.from.as === 'bytes');
  const both = (bytes: Uint8Array): Incoming[] =>
    wantsBytes ? [{ as: 'bytes', bytes }] : [{ as: 'text', text: Buffer.from(bytes).toString('utf8') }];
  const ending = transport.kind === 'tcp' ? transport.ending : '';
  if (ending === '') return both;
  let waiting = Buffer.alloc(0);
  return (bytes) => {
    waiting = Buffer.concat([waiting, bytes]);
    const found: Incoming[] = [];
    for (let at = waiting.indexOf(ending); at >= 0; at = waiting.indexOf(ending)) {
      found.push(...both(waiting.subarray(0, at)));
      waiting = waiting.subarray(at + Buffer.byteLength(ending));
    }
    if (waiting.length <= LONGEST) return found;
    waiting = Buffer.alloc(0);
    return null;
  };
}

const SENT: SendResult = { sent: true };

function openDatagrams(deps: WireDependencies): Wire {
  const { device, flush, messages, compiled, driver, inTurn, engine, clock } = deps;
  const socket = createSocket('udp4');
  let open = false;
  const read = makeReader(compiled.profile);
  const ending = compiled.profile.transport.kind === 'udp' ? compiled.profile.transport.ending : '';
  socket.on('message', (bytes) => {
    const said = read(bytes);
    inTurn(() => (said === null ? driver().notUnderstood() : said.forEach((one) => driver().receive(one))));
    messages.keep(bytes, false, Date.now(), compiled.asks.length > 0);
  });
  socket.on('error', () => engine.board.turn(() => driver().unreachable()));
  socket.connect(device.port, device.host, (error?: Error) => {
    open = error === undefined || error === null;
  });
  return {
    connect: () => undefined,
    send: (message, beat, then) => {
      flush();
      const bytes = bytesOf(message, ending);
      if (open) {
        socket.send(bytes);
        messages.keep(bytes, true, Date.now(), beat);
      }
      clock.at(clock.now(), () => then(open ? SENT : { failed: 'lost' }));
    },
    close: () => socket.close(),
  };
}

function openStream(deps: WireDependencies): Wire {
  const { device, flush, messages, compiled, driver, inTurn, clock } = deps;
  const { transport } = compiled.profile;
  const ending = transport.kind === 'tcp' ? transport.ending : '';
  let socket: Socket | null = null;
  let open = false;
  return {
    connect: () => {
      const read = makeReader(compiled.profile);
      const made = createConnection({ port: device.port, host: device.host, noDelay: true });
      socket = made;
      made.setTimeout(ANSWER_LIMIT_MS, () => !open && made.destroy());
      made.on('connect', () => {
        open = true;
        inTurn(() => driver().connected());
      });
      made.on('data', (bytes) => {
        const said = read(bytes);
        inTurn(() => (said === null ? driver().notUnderstood() : said.forEach((one) => driver().receive(one))));
        messages.keep(bytes, false, Date.now(), compiled.asks.length > 0);
      });
      made.on('error', (error: NodeJS.ErrnoException) =>
        inTurn(() => error.code === 'ECONNREFUSED' && driver().unreachable()),
      );
      made.on('close', () => {
        open = false;
        inTurn(() => driver().disconnected());
      });
    },
    send: (message, beat, then) => {
      flush();
      const bytes = bytesOf(message, ending);
      if (open) {
        socket?.write(bytes);
        messages.keep(bytes, true, Date.now(), beat);
      }
      clock.at(clock.now(), () => then(open ? SENT : { failed: 'lost' }));
    },
    close: () => socket?.destroy(),
  };
}

function openWebSocket(deps: WireDependencies): Wire {
  const { device, flush, messages, compiled, driver, inTurn, clock } = deps;
  const { transport } = compiled.profile;
  const path = transport.kind === 'webSocket' ? transport.path : '/';
  let socket: WebSocket | null = null;
  return {
    connect: () => {
      const read = makeReader({ ...compiled.profile, transport: { kind: 'udp', ending: '' } });
      const made = new WebSocket(`ws://${device.host}:${device.port}${path.startsWith('/') ? path : `/${path}`}`, {
        handshakeTimeout: ANSWER_LIMIT_MS,
        maxPayload: LONGEST,
      });
      socket = made;
      made.on('open', () => inTurn(() => driver().connected()));
      made.on('message', (data: Buffer) => {
        const said = read(data);
        inTurn(() => said?.forEach((one) => driver().receive(one)));
        messages.keep(data, false, Date.now(), compiled.asks.length > 0);
      });
      made.on('error', (error: NodeJS.ErrnoException) =>
        inTurn(() => (error.code === 'ECONNREFUSED' ? driver().unreachable() : driver().notUnderstood())),
      );
      made.on('close', () => inTurn(() => driver().disconnected()));
    },
    send: (message, beat, then) => {
      flush();
      const open = socket?.readyState === WebSocket.OPEN;
      if (open) {
        const data = message.as === 'text' ? message.text : bytesOf(message, '');
        socket?.send(data);
        messages.keep(Buffer.from(data), true, Date.now(), beat);
      }
      clock.at(clock.now(), () => then(open ? SENT : { failed: 'lost' }));
    },
    close: () => socket?.terminate(),
  };
}

function openRequests(deps: WireDependencies): Wire {
  const { device, flush, messages, compiled, driver, inTurn, clock } = deps;
  const { transport } = compiled.profile;
  const agent = new Agent({ keepAlive: true, maxSockets: 4 });
  return {
    connect: () => undefined,
    send: (message, beat, then) => {
      if (message.as !== 'http') return void clock.at(clock.now(), () => then({ failed: 'lost' }));
      flush();
      let over = false;
      const end = (result: SendResult): void => {
        if (over) return;
        over = true;
        clearTimeout(limit);
        inTurn(() => then(result));
      };
      const { method, path, body, contentType } = message;
      const headers = {
        ...(transport.kind === 'http' ? transport.headers : {}),
        ...(body === null ? {} : { 'content-type': contentType, 'content-length': Buffer.byteLength(body) }),
      };
      const asked = request({ host: device.host, port: device.port, agent, method, path, headers }, (response) => {
        let text = '';
        response.setEncoding('utf8');
        response.on('data', (chunk: string) => {
          text += chunk;
          if (text.length > LONGEST) asked.destroy();
        });
        response.on('end', () => {
          const status = response.statusCode ?? 0;
          messages.keep(Buffer.from(`${path} ${status} ${text.slice(0, 4000)}`), false, Date.now(), beat);
          if (status < 300 && (beat || text !== '')) inTurn(() => driver().receive({ as: 'text', text }));
          else if (beat) inTurn(() => driver().notUnderstood());
          end({ status, text });
        });
        response.on('error', () => end({ failed: 'lost' }));
      });
      const limit = setTimeout(() => {
        end({ failed: 'lost' });
        asked.destroy();
      }, ANSWER_LIMIT_MS);
      asked.on('error', (error: NodeJS.ErrnoException) =>
        end({ failed: error.code === 'ECONNREFUSED' ? 'refused' : error.code?.startsWith('HPE') ? 'foreign' : 'lost' }),
      );
      asked.end(body ?? undefined);
      messages.keep(Buffer.from(`${method} ${path} ${body ?? ''}`), true, Date.now(), beat);
    },
    close: () => agent.destroy(),
  };
}

/** A device by profile on the transport that its profile names. */
export function openProfileLink(deps: LinkDependencies): Link {
  const { engine, device, context } = deps;
  const compiled = compiledProfileOf(
    engine.program.document.profiles.find((one) => one.key === device.settings.profile)?.content,
  );
  let closed = false;
  const wires: WireDependencies = {
    ...deps,
    compiled,
    driver: () => driver,
    inTurn: (work) => {
      if (!closed) engine.board.turn(work);
    },
  };
  const { kind } = compiled.profile.transport;
  const overStream =
    kind === 'tcp' || (compiled.profile.transport.kind === 'midi' && compiled.profile.transport.over === 'tcp');
  const wire =
    kind === 'http'
      ? openRequests(wires)
      : kind === 'webSocket'
        ? openWebSocket(wires)
        : overStream
          ? openStream(wires)
          : openDatagrams(wires);
  const profileContext: ProfileContext = {
    ...context,
    connect: () => wire.connect(),
    transmit: (message, beat, then) => wire.send(message, beat, (result) => !closed && then(result)),
  };
  const driver = new ProfileDriver(compiled, profileContext);
  // The socket of datagrams opens a moment later; asks before that would be lost.
  setImmediate(() => {
    if (!closed) engine.board.turn(() => driver.open());
  });
  return {
    driver,
    close: () => {
      driver.close();
      closed = true;
      wire.close();
    },
  };
}

/** @throws never for a profile of a checked show */
function compiledProfileOf(profile: ProfileFile | undefined): CompiledProfile {
  const compiled = profile === undefined ? undefined : compileProfile(profile);
  if (!compiled?.ok) throw new Error('The profile of a device is missing or was never checked.');
  return compiled.value;
}
