/**
 * A pad with keys, as an example of docs/pad-protocol.md: a terminal is its display, a keyboard its keys.
 *
 *   node examples/pad.mjs                                  six by four keys on the engine's own machine
 *   node examples/pad.mjs --grid 10x3 --serial L2 --name "Left pad"
 *   node examples/pad.mjs --url wss://192.0.2.10:4443/api/pad --ca umbek.crt --join 123456
 *   node examples/pad.mjs --pictures shown --size 120x96    pictures of the caps, as files in a folder
 *
 * On a keyboard the rows 123456, QWERTY, ASDFGH, ZXCVBN stand for the rows of keys; Ctrl-C ends it. Where no terminal is attached it takes lines:
 * `press 3`, `down 3`, `up 3`, `shift on`, `shift off`.
 */
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { request } from 'node:https';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { parseArgs } from 'node:util';
import { ulid } from 'ulid';
import WebSocket from 'ws';

const { values: given } = parseArgs({
  options: {
    url: { type: 'string', default: 'ws://127.0.0.1:4400/api/pad' },
    name: { type: 'string', default: 'Example pad' },
    serial: { type: 'string', default: 'example-1' },
    grid: { type: 'string', default: '6x4' },
    pictures: { type: 'string' },
    size: { type: 'string', default: '120x96' },
    join: { type: 'string' },
    ca: { type: 'string' },
    key: { type: 'string', default: 'pad.key' },
  },
});
const [columns, rows] = given.grid.split('x').map(Number);
const [width, height] = given.size.split('x').map(Number);
const ca = given.ca === undefined ? undefined : readFileSync(given.ca);
const isTerminal = process.stdin.isTTY === true;
/** A touch is renewed so often, a connection made anew after so long, and what is shown believed for so long without a word. */
const [RENEW_MS, AGAIN_MS, BELIEVED_MS] = [100, 1000, 2500];

/** What the keys show, by number. */
const caps = new Map();
/** Touches that are down, by key. */
const down = new Map();
let lastLine = 'no contact';
let head = '';
let socket = null;
let heardAt = 0;

function connect() {
  const headers = existsSync(given.key) ? { authorization: `Bearer ${readFileSync(given.key, 'utf8').trim()}` } : {};
  const mine = new WebSocket(given.url, { headers, ca });
  socket = mine;
  mine.on('open', () => {
    heardAt = Date.now();
    say({
      type: 'hello',
      protocol: 1,
      name: given.name,
      serial: given.serial,
      columns,
      rows,
      picture: given.pictures === undefined ? null : { width, height },
    });
  });
  mine.on('message', (data) => {
    heardAt = Date.now();
    take(JSON.parse(String(data)));
  });
  mine.on('error', (error) => (lastLine = error.message));
  mine.on('close', () => {
    // What the keys showed may not be true any more, and what was down is let go by the engine.
    caps.clear();
    for (const touch of down.values()) clearInterval(touch.timer);
    down.clear();
    lastLine = `no contact: ${lastLine}`.slice(0, 120);
    draw();
    setTimeout(connect, AGAIN_MS);
  });
}

/** Nothing is sent later: a touch without contact is dropped. */
function say(message) {
  if (socket?.readyState !== WebSocket.OPEN) return false;
  socket.send(JSON.stringify(message));
  return true;
}

function take(message) {
  switch (message.type) {
    case 'welcome':
      lastLine =
        message.station === null ? `${given.serial} has no place yet: Rig, Stations` : `acts as ${message.station}`;
      break;
    case 'caps':
      if (message.whole) caps.clear();
      head = `${message.panel ?? '–'} · ${message.page} of ${message.pages}`;
      for (const cap of message.caps) {
        caps.set(cap.key, cap);
        if (given.pictures !== undefined && cap.picture !== undefined) {
          mkdirSync(given.pictures, { recursive: true });
          writeFileSync(join(given.pictures, `${cap.key}.png`), Buffer.from(cap.picture, 'base64'));
        }
      }
      break;
    case 'answer':
      if (!message.accepted) lastLine = [message.words, message.mend].filter(Boolean).join(' ');
      break;
    case 'taken':
      lastLine = message.words;
      if (!message.mine) for (const [key, touch] of down) if (touch.id === message.press) lift(key);
      break;
    case 'flash':
      lastLine = `>>> ${message.name} <<<`;
      break;
    case 'error':
      lastLine = `${message.words} ${message.mend}`;
      break;
    default:
      // Added since: passed over.
      return;
  }
  draw();
}

function press(key) {
  if (down.has(key) || !(key >= 0 && key < columns * rows)) return;
  const touch = { id: ulid(), timer: null };
  if (!say({ type: 'down', key, press: touch.id })) return;
  touch.timer = setInterval(() => say({ type: 'hold', press: touch.id }), RENEW_MS);
  down.set(key, touch);
}

function lift(key) {
  const touch = down.get(key);
  if (touch === undefined) return;
  clearInterval(touch.timer);
  down.delete(key);
  say({ type: 'up', press: touch.id });
}

const MARKS = { onAir: '●', onPreview: '○', working: '…', failed: '!', armed: '?', recording: '◉', chosen: '▼' };
let drawDue = null;

function draw() {
  drawDue ??= setTimeout(() => {
    drawDue = null;
    const cell = (key) => {
      const { legend = '', lamp = null, lost = false } = caps.get(key) ?? {};
      return `${lost ? '×' : (MARKS[lamp] ?? (lamp === null ? ' ' : '+'))} ${legend}`.slice(0, 14).padEnd(14);
    };
    const lines = Array.from({ length: rows }, (_none, row) =>
      Array.from({ length: columns }, (_other, column) => cell(row * columns + column)).join('│'),
    );
    process.stdout.write(`${isTerminal ? '\x1b[2J\x1b[H' : ''}${head}\n${lines.join('\n')}\n${lastLine}\n`);
  }, 50);
}

const BOARD = ['123456', 'qwerty', 'asdfgh', 'zxcvbn'];
/** A terminal does not say when a key is let go: it is when it has not repeated for so long. */
const LIFTED_MS = 300;
const lifts = new Map();

if (isTerminal) {
  process.stdin.setRawMode(true);
  process.stdin.on('data', (bytes) => {
    for (const letter of String(bytes)) {
      if (letter === '\u0003') process.exit(0);
      const row = BOARD.findIndex((keys) => keys.includes(letter));
      const column = BOARD[row]?.indexOf(letter) ?? -1;
      if (row < 0 || row >= rows || column >= columns) continue;
      const key = row * columns + column;
      clearTimeout(lifts.get(key));
      press(key);
      lifts.set(
        key,
        setTimeout(() => lift(key), LIFTED_MS),
      );
    }
  });
} else
  createInterface({ input: process.stdin })
    .on('line', (line) => {
      const [what, which] = line.trim().split(' ');
      if (what === 'shift') say({ type: 'shift', on: which === 'on' });
      if (what === 'down' || what === 'press') press(Number(which));
      if (what === 'up' || what === 'press') lift(Number(which));
    })
    .on('close', () => process.exit(0));

setInterval(() => {
  say({ type: 'time', sent: Date.now() });
  if (socket?.readyState === WebSocket.OPEN && Date.now() - heardAt > BELIEVED_MS) {
    lastLine = 'no answer';
    socket.terminate();
  }
}, 500);

/** Asks over TLS. @returns the answer's status and body */
const ask = (path, body) =>
  new Promise((done, failed) => {
    const { host } = new URL(given.url);
    const asked = request(`https://${host}${path}`, {
      method: 'POST',
      ca,
      headers: { 'content-type': 'application/json' },
    });
    asked.on('error', failed);
    asked.on('response', async (response) => {
      let text = '';
      for await (const part of response) text += part;
      done({ status: response.statusCode, body: JSON.parse(text) });
    });
    asked.end(JSON.stringify(body));
  });

/** Is let in with six figures that a station shows: somebody there says yes. */
async function joinRoom(code) {
  const asked = await ask('/api/join', { code, name: given.name });
  if (asked.status !== 202) throw new Error(`${asked.body.message} ${asked.body.mend}`);
  process.stdout.write('Asked to be let in: look at the station that shows the figures.\n');
  for (;;) {
    await new Promise((next) => setTimeout(next, 1000));
    const { body } = await ask('/api/join/wait', asked.body);
    if (body.state === 'in') return writeFileSync(given.key, body.key, { mode: 0o600 });
    if (body.state !== 'waiting') throw new Error(`Not let in: ${body.state}.`);
  }
}

try {
  if (given.join !== undefined) await joinRoom(given.join);
  connect();
} catch (error) {
  process.stderr.write(`${error.message}\n`);
  process.exit(1);
}
