import { createCanvas, GlobalFonts, type SKRSContext2D } from '@napi-rs/canvas';
import { colour, families } from '@umbek/look';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { crc32, deflateSync } from 'node:zlib';
import type { PaintedCap, Size } from './painter';

const FACE = 'Umbek';
/** Words are drawn at the largest of these sizes at which they fit; pixels of a display that is 96 high. */
const LEGEND_SIZES = [24, 21, 18, 16, 14, 12];
const NOTE_SIZE = 13;
/** So many lines of the legend, where they fit. */
const LINES = 3;
/** Lines stand so far apart, in sizes of their letters. */
const LEADING = 1.12;

/** @param folder with the page's own letters; where there are none, those of the machine are taken */
export function loadFonts(folder: string): void {
  try {
    for (const file of readdirSync(folder))
      if (/-(400|600)-latin(-ext)?\.woff2$/.test(file)) GlobalFonts.registerFromPath(join(folder, file), FACE);
  } catch {
    // Any letters are better than none.
  }
}

/** @returns a cap as a PNG: its words on the colour of caps, its family as the bar at the foot, its lamp along the head */
export function paintCap(cap: PaintedCap, { width, height }: Size): Uint8Array {
  const canvas = createCanvas(width, height);
  const context = canvas.getContext('2d');
  const unit = height / 96;
  if (cap.family === null) {
    context.fillStyle = colour.ground;
    context.fillRect(0, 0, width, height);
    words(context, cap, width, height, unit, colour.muted, colour.muted);
    return pngOf(canvas.data(), { width, height });
  }
  context.fillStyle = colour.cap;
  context.fillRect(0, 0, width, height);
  if (cap.lost) hatch(context, width, height, unit);
  context.fillStyle = colour.capHead;
  context.fillRect(0, 0, width, 10 * unit);
  lamp(context, cap.lamp, width, height, unit);
  context.fillStyle = families[cap.family];
  context.fillRect(0, height - 8 * unit, width, 8 * unit);
  words(context, cap, width, height, unit, colour.legend, colour.note);
  return pngOf(canvas.data(), { width, height });
}

function words(
  context: SKRSContext2D,
  { legend, note }: PaintedCap,
  width: number,
  height: number,
  unit: number,
  ink: string,
  faint: string,
): void {
  const room = width - 10 * unit;
  const noteSize = note === '' ? 0 : NOTE_SIZE * unit;
  const tall = height - 22 * unit - noteSize * LEADING;
  context.textAlign = 'center';
  context.textBaseline = 'middle';
  let lines: string[] = [];
  let size = 0;
  for (const each of LEGEND_SIZES) {
    size = each * unit;
    context.font = `600 ${size}px ${FACE}, sans-serif`;
    lines = wrapped(context, legend, room);
    const fits = lines.length <= LINES && lines.length * size * LEADING <= tall;
    if (fits && lines.every((line) => context.measureText(line).width <= room)) break;
  }
  const shown = lines.slice(0, Math.max(1, Math.floor(tall / (size * LEADING))));
  const whole = shown.length * size * LEADING + noteSize * LEADING;
  let y = 11 * unit + (height - 20 * unit - whole) / 2 + (size * LEADING) / 2;
  context.fillStyle = ink;
  for (const line of shown) {
    context.fillText(line, width / 2, y, room);
    y += size * LEADING;
  }
  if (note === '') return;
  context.font = `400 ${noteSize}px ${FACE}, sans-serif`;
  context.fillStyle = faint;
  context.fillText(note, width / 2, y - (size * LEADING) / 2 + (noteSize * LEADING) / 2, room);
}

/** Words kept whole, as many a line as fit. */
function wrapped(context: SKRSContext2D, text: string, room: number): string[] {
  const lines: string[] = [];
  for (const word of text.split(/\s+/).filter(Boolean)) {
    const longer = lines.length === 0 ? word : `${lines.at(-1)} ${word}`;
    if (lines.length > 0 && context.measureText(longer).width <= room) lines[lines.length - 1] = longer;
    else lines.push(word);
  }
  return lines;
}

/** Each state has a shape of its own; the colour only repeats it. */
function lamp(context: SKRSContext2D, kind: PaintedCap['lamp'], width: number, height: number, unit: number): void {
  const head = 10 * unit;
  const middle = width / 2;
  const filled = (fill: string, points: readonly (readonly [number, number])[]): void => {
    context.fillStyle = fill;
    context.beginPath();
    for (const [x, y] of points) context.lineTo(x, y);
    context.closePath();
    context.fill();
  };
  const dot = (fill: string, x: number): void => {
    context.fillStyle = fill;
    context.beginPath();
    context.arc(x, head / 2, head / 2, 0, 2 * Math.PI);
    context.fill();
  };
  const frame = (line: string): void => {
    context.strokeStyle = line;
    context.lineWidth = 4 * unit;
    context.strokeRect(2 * unit, 2 * unit, width - 4 * unit, height - 4 * unit);
  };
  switch (kind) {
    case 'onAir':
      context.fillStyle = colour.onAir;
      context.fillRect(0, 0, width, head);
      return frame(colour.onAir);
    case 'onPreview':
      context.fillStyle = colour.onPreview;
      context.fillRect(width / 4, 0, width / 2, head);
      return frame(colour.onPreview);
    case 'chosen':
      return filled(colour.legend, [
        [middle - head, 0],
        [middle, head],
        [middle + head, 0],
      ]);
    case 'up':
      return filled(families.clay, [
        [middle - head, head],
        [middle, 0],
        [middle + head, head],
      ]);
    case 'arrived':
      return dot(families.lagoon, middle);
    case 'recording':
      return dot(colour.onAir, 12 * unit);
    case 'armed':
      context.fillStyle = colour.warning;
      for (let dash = 0; dash < 5; dash += 1) context.fillRect(((dash * 2 + 0.5) * width) / 10, 0, width / 10, head);
      return undefined;
    case 'working':
      context.fillStyle = colour.warning;
      return context.fillRect(width * 0.36, 0, width * 0.28, head);
    case 'failed':
      context.strokeStyle = '#B3541E';
      context.lineWidth = 3 * unit;
      context.beginPath();
      for (let at = 0; at <= 12; at += 1) context.lineTo((at * width) / 12, at % 2 === 0 ? 2 * unit : head - 2 * unit);
      return context.stroke();
    default:
      return undefined;
  }
}

function hatch(context: SKRSContext2D, width: number, height: number, unit: number): void {
  context.strokeStyle = '#C9C0AE';
  context.lineWidth = 6 * unit;
  context.beginPath();
  for (let at = -height; at < width; at += 17 * unit) {
    context.moveTo(at, height);
    context.lineTo(at + height, 0);
  }
  context.stroke();
}

const SIGNATURE = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);

/**
 * A PNG (ISO/IEC 15948): red, green and blue of 8 bits, no line filtered, lightly compressed. A cap is flat; the general encoder takes four times
 * as long to make it a little smaller.
 * @param pixels red, green, blue and opacity of each, row by row; all of them opaque
 */
function pngOf(pixels: Uint8Array, { width, height }: Size): Uint8Array {
  const line = 1 + width * 3;
  const raw = Buffer.alloc(line * height);
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      const [from, to] = [(y * width + x) * 4, y * line + 1 + x * 3];
      raw[to] = pixels[from] ?? 0;
      raw[to + 1] = pixels[from + 1] ?? 0;
      raw[to + 2] = pixels[from + 2] ?? 0;
    }
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width, 0);
  head.writeUInt32BE(height, 4);
  // 8 bits of each colour; the rest stays 0: usual compression and filters, not interlaced.
  head.set([8, 2], 8);
  return Buffer.concat([SIGNATURE, chunk('IHDR', head), chunk('IDAT', deflateSync(raw, { level: 1 })), chunk('IEND')]);
}

function chunk(type: string, data: Buffer = Buffer.alloc(0)): Buffer {
  const bytes = Buffer.alloc(12 + data.length);
  bytes.writeUInt32BE(data.length, 0);
  bytes.write(type, 4, 'latin1');
  data.copy(bytes, 8);
  bytes.writeUInt32BE(crc32(bytes.subarray(4, 8 + data.length)), 8 + data.length);
  return bytes;
}
