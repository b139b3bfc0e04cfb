import { compileProfile, type CompiledProfile, type Incoming, type Outgoing } from '@umbek/core/profile';
import type { ProfileFile } from '@umbek/core/show';
import { encodeMidi, MidiReader } from '@umbek/wire/midi';
import { decodeOsc, encodeOsc } from '@umbek/wire/osc';
import type { StreamEvents, StreamSide } from '../border/network';
import { ProfileDriver, type SendResult } from '../drivers/profileDriver';
import type { StopWay } from '../drivers/context';
import { FAREWELL_MS, type Link, type LinkDependencies } from './link';

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
  const { network, device, flush, messages, compiled, driver, inTurn, clock } = deps;
  let open = false;
  const read = makeReader(compiled.profile);
  const ending = compiled.profile.transport.kind === 'udp' ? compiled.profile.transport.ending : '';
  const wire = network.datagrams(device, {
    open: () => {
      open = true;
    },
    message: (bytes) => {
      inTurn(() => {
        const said = read(bytes);
        if (said === null) driver().notUnderstood();
        else said.forEach((incoming) => driver().receive(incoming));
      });
      messages.keep(bytes, false, compiled.asks.length > 0);
    },
    refused: () => inTurn(() => driver().unreachable()),
  });
  return {
    connect: () => undefined,
    send: (message, beat, then) => {
      flush();
      const bytes = bytesOf(message, ending);
      if (open) {
        wire.send(bytes);
        messages.keep(bytes, true, beat);
      }
      clock.at(clock.now(), () => then(open ? SENT : { failed: 'lost' }));
    },
    close: () => wire.close(),
  };
}

/** Over a connection: TCP or a WebSocket. */
function openConnected(
  deps: WireDependencies,
  profile: ProfileFile,
  ending: string,
  connect: (events: StreamEvents) => StreamSide & Partial<{ text(text: string): void }>,
): Wire {
  const { flush, messages, compiled, driver, inTurn, clock } = deps;
  let stream: ReturnType<typeof connect> | null = null;
  let open = false;
  return {
    connect: () => {
      const read = makeReader(profile);
      const made = connect({
        connected: () => {
          open = true;
          inTurn(() => driver().connected());
        },
        data: (bytes) => {
          if (stream !== made) return;
          inTurn(() => {
            const said = read(bytes);
            if (said === null) driver().notUnderstood();
            else said.forEach((incoming) => driver().receive(incoming));
          });
          messages.keep(bytes, false, compiled.asks.length > 0);
        },
        refused: () => inTurn(() => driver().unreachable()),
        closed: () => {
          if (stream !== made) return;
          stream = null;
          open = false;
          inTurn(() => driver().disconnected());
        },
      });
      stream = made;
    },
    send: (message, beat, then) => {
      flush();
      if (open && stream !== null) {
        const bytes = bytesOf(message, ending);
        if (message.as === 'text' && stream.text !== undefined) stream.text(message.text);
        else stream.write(bytes);
        messages.keep(bytes, true, beat);
      }
      clock.at(clock.now(), () => then(open ? SENT : { failed: 'lost' }));
    },
    close: () => stream?.destroy(),
  };
}

function openStream(deps: WireDependencies): Wire {
  const { network, device, compiled } = deps;
  const { transport } = compiled.profile;
  const ending = transport.kind === 'tcp' ? transport.ending : '';
  return openConnected(deps, compiled.profile, ending, (events) => network.stream(device, ANSWER_LIMIT_MS, events));
}

function openWebSocket(deps: WireDependencies): Wire {
  const { network, device, compiled } = deps;
  const { transport } = compiled.profile;
  const path = transport.kind === 'webSocket' ? transport.path : '/';
  const whole: ProfileFile = { ...compiled.profile, transport: { kind: 'udp', ending: '' } };
  return openConnected(deps, whole, '', (events) =>
    network.webSocket(device, path.startsWith('/') ? path : `/${path}`, ANSWER_LIMIT_MS, events),
  );
}

function openRequests(deps: WireDependencies): Wire {
  const { network, device, flush, messages, compiled, driver, inTurn, clock } = deps;
  const { transport } = compiled.profile;
  const http = network.http(device);
  return {
    connect: () => undefined,
    send: (message, beat, then) => {
      if (message.as !== 'http') return void clock.at(clock.now(), () => then({ failed: 'lost' }));
      flush();
      const { method, path, body, contentType } = message;
      const headers = {
        ...(transport.kind === 'http' ? transport.headers : {}),
        ...(body === null ? {} : { 'content-type': contentType }),
      };
      http.ask({ method, path, headers, limitMs: ANSWER_LIMIT_MS, ...(body === null ? {} : { body }) }, (reply) => {
        if ('failed' in reply) return inTurn(() => then(reply));
        const { status, text } = reply;
        messages.keep(Buffer.from(`${path} ${status} ${text.slice(0, 4000)}`), false, beat);
        inTurn(() => {
          if (status < 300 && (beat || text !== '')) driver().receive({ as: 'text', text });
          else if (beat) driver().notUnderstood();
          then({ status, text });
        });
      });
      messages.keep(Buffer.from(`${method} ${path} ${body ?? ''}`), true, beat);
    },
    close: () => http.close(),
  };
}

/** A device by profile on the transport that its profile names. */
export function openProfileLink(deps: LinkDependencies): Link {
  const { engine, device, context, inTurn, clock } = deps;
  const compiled = compiledProfileOf(
    engine.program.document.profiles.find((profile) => profile.key === device.settings.profile)?.content,
  );
  const wires: WireDependencies = { ...deps, compiled, driver: () => driver };
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
  let closed = false;
  const driver = new ProfileDriver(compiled, {
    ...context,
    connect: () => wire.connect(),
    transmit: (message, beat, then) => wire.send(message, beat, (result) => !closed && then(result)),
    leaveStops: (messages, endsAfterMs) => {
      if (messages === null) return context.guard(null);
      const stops = stopBytes(messages, compiled.profile, device);
      context.guard(stops.bytes, endsAfterMs, stops.over);
    },
    memoryAt: (number) =>
      engine.program.document.positions.find(
        (position) => position.camera === device.key && position.headNumber === number,
      )?.key ?? '',
  });
  clock.at(clock.now(), () => inTurn(() => driver.open()));
  return {
    driver,
    close: () => {
      const stops = driver.stopMessages;
      driver.close();
      closed = true;
      if (stops.length === 0) return wire.close();
      const send = (): void => stops.forEach((message) => wire.send(message, false, () => undefined));
      for (const at of FAREWELL_MS) {
        if (at === 0) send();
        else clock.at(clock.now() + at, send);
      }
      clock.at(clock.now() + Math.max(...FAREWELL_MS) + 20, () => wire.close());
    },
  };
}

/** What ends a move as a process sends it that never spoke to the device, and on what connection. */
function stopBytes(
  messages: readonly Outgoing[],
  { transport }: ProfileFile,
  { host, port }: { readonly host: string; readonly port: number },
): { readonly bytes: readonly Uint8Array[]; readonly over?: StopWay } {
  const ending = transport.kind === 'tcp' || transport.kind === 'udp' ? transport.ending : '';
  const bytes = messages.map((message) =>
    message.as === 'http'
      ? requestBytes(message, transport.kind === 'http' ? transport.headers : {}, `${host}:${port}`)
      : bytesOf(message, ending),
  );
  if (transport.kind === 'webSocket') {
    const path = transport.path.startsWith('/') ? transport.path : `/${transport.path}`;
    return { bytes, over: { kind: 'webSocket', path } };
  }
  const overTcp =
    transport.kind === 'http' || transport.kind === 'tcp' || (transport.kind === 'midi' && transport.over === 'tcp');
  return overTcp ? { bytes, over: { kind: 'tcp' } } : { bytes };
}

/** A request as it goes over the wire (RFC 9112), for whoever only has a connection. */
function requestBytes(
  { method, path, body, contentType }: Extract<Outgoing, { as: 'http' }>,
  headers: Readonly<Record<string, string>>,
  host: string,
): Uint8Array {
  const content = Buffer.from(body ?? '');
  const lines = [
    `${method} ${path} HTTP/1.1`,
    `host: ${host}`,
    'connection: close',
    `content-length: ${content.length}`,
    ...(body === null ? [] : [`content-type: ${contentType}`]),
    ...Object.entries(headers).map(([name, value]) => `${name}: ${value}`),
  ];
  return Buffer.concat([Buffer.from(`${lines.join('\r\n')}\r\n\r\n`), content]);
}

/** @throws never for a profile of a checked show */
function compiledProfileOf(profile: ProfileFile | undefined): CompiledProfile {
  const compiled = profile === undefined ? undefined : compileProfile(profile);
  if (!compiled?.ok) throw new Error('The profile of a device is missing or was never checked.');
  return compiled.value;
}
