import type { View } from '@umbek/core/picture';
import { type Brush, FILLS, HEIGHT, paintWith, WIDTH } from './paint';
import { ZENITH } from './world';

/** A moving picture fills its place and is laid out by itself: what changes in it must not make the browser look at the caps. */
export const CANVAS = { display: 'block', width: '100%', height: '100%', contain: 'strict' } as const;
/** Finer than this nobody sees on a moving picture. */
const MOST_DENSITY = 2;

/** Gives a canvas as many dots as its place on the screen has. */
export function fit(canvas: HTMLCanvasElement): void {
  const density = Math.min(MOST_DENSITY, window.devicePixelRatio);
  const [width, height] = [
    Math.max(1, Math.round(canvas.clientWidth * density)),
    Math.max(1, Math.round(canvas.clientHeight * density)),
  ];
  if (canvas.width !== width) canvas.width = width;
  if (canvas.height !== height) canvas.height = height;
}

/** Draws what a camera sees; where the place is not 16 : 9, the picture covers it and is cut evenly. */
export function draw(canvas: HTMLCanvasElement, view: View): void {
  const context = canvas.getContext('2d', { alpha: false });
  if (!context) return;
  const scale = Math.max(canvas.width / WIDTH, canvas.height / HEIGHT);
  context.setTransform(scale, 0, 0, scale, (canvas.width - WIDTH * scale) / 2, (canvas.height - HEIGHT * scale) / 2);
  context.globalAlpha = 1;
  context.fillStyle = ZENITH;
  context.fillRect(0, 0, WIDTH, HEIGHT);
  const brush = new CanvasBrush(context);
  paintWith(brush, view);
  brush.end();
}

/** Fills each path when the next begins; a path with nothing in it costs nothing. */
class CanvasBrush implements Brush {
  private at = 0;
  private drawn = false;

  constructor(private readonly context: CanvasRenderingContext2D) {}

  path(at: number): void {
    this.end();
    this.at = at;
  }

  ring(xs: Int32Array, ys: Int32Array, count: number): void {
    this.begin();
    const { context } = this;
    context.moveTo(xs[0] ?? 0, ys[0] ?? 0);
    for (let at = 1; at < count; at += 1) context.lineTo(xs[at] ?? 0, ys[at] ?? 0);
    context.closePath();
  }

  star(x: number, y: number, size: number): void {
    this.begin();
    const { context } = this;
    context.moveTo(x - size, y);
    context.lineTo(x, y - size);
    context.lineTo(x + size, y);
    context.lineTo(x, y + size);
    context.closePath();
  }

  end(): void {
    if (!this.drawn) return;
    const { context } = this;
    const { fill, opacity } = FILLS[this.at] ?? { fill: ZENITH, opacity: 1 };
    context.fillStyle = fill;
    context.globalAlpha = opacity;
    context.fill();
    this.drawn = false;
  }

  private begin(): void {
    if (this.drawn) return;
    this.drawn = true;
    this.context.beginPath();
  }
}
