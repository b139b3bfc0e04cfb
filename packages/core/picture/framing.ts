/**
 * Perspective of a camera that turns about two axes and does not roll. Angles are degrees at the surface, right and up positive; places in
 * the picture are fractions of the frame from its top left.
 */
export interface View {
  readonly pan: number;
  readonly tilt: number;
  /** Horizontal angle of view. */
  readonly width: number;
}

/** A place in the picture; `depth` is above 0 for what lies in front of the camera. */
export interface Projected {
  readonly x: number;
  readonly y: number;
  readonly depth: number;
}

const RADIAN = Math.PI / 180;
const ASPECT = 9 / 16;

/** Half the picture on a plane one unit away: tan(h/2) and tan(v/2) = tan(h/2)·9/16. */
const halves = (view: View): { across: number; up: number } => {
  const across = Math.tan((view.width * RADIAN) / 2);
  return { across, up: across * ASPECT };
};

/** Vertical angle of view, degrees. */
export const viewHeight = (view: View): number => (2 * Math.atan(halves(view).up)) / RADIAN;

/** Where a direction lies in the picture. */
export function project(pan: number, tilt: number, view: View): Projected {
  const turn = (pan - view.pan) * RADIAN;
  const [sinE, cosE] = [Math.sin(tilt * RADIAN), Math.cos(tilt * RADIAN)];
  const [sinT, cosT] = [Math.sin(view.tilt * RADIAN), Math.cos(view.tilt * RADIAN)];
  const right = cosE * Math.sin(turn);
  const ahead = cosE * Math.cos(turn);
  const depth = ahead * cosT + sinE * sinT;
  const up = sinE * cosT - ahead * sinT;
  const { across, up: high } = halves(view);
  const by = Math.max(depth, 1e-6);
  return { x: 0.5 + right / by / across / 2, y: 0.5 - up / by / high / 2, depth };
}

/** The direction of a place in the picture: pan P + atan2(X, cos T − Y·sin T), tilt asin((sin T + Y·cos T)/√(1 + X² + Y²)). */
export function directionAt(x: number, y: number, view: View): { pan: number; tilt: number } {
  const { across, up } = halves(view);
  const [planeX, planeY] = [(2 * x - 1) * across, (1 - 2 * y) * up];
  const [sinT, cosT] = [Math.sin(view.tilt * RADIAN), Math.cos(view.tilt * RADIAN)];
  return {
    pan: view.pan + Math.atan2(planeX, cosT - planeY * sinT) / RADIAN,
    tilt: Math.asin((sinT + planeY * cosT) / Math.sqrt(1 + planeX ** 2 + planeY ** 2)) / RADIAN,
  };
}

/**
 * The pan and tilt that bring a direction to a place in the picture, at the same angle of view. From the formula of `directionAt`, solved
 * for the camera: sin T + Y·cos T = √(1 + Y²)·sin(T + atan Y).
 */
export function aimAt(
  target: { pan: number; tilt: number },
  x: number,
  y: number,
  width: number,
): { pan: number; tilt: number } {
  const { across, up } = halves({ pan: 0, tilt: 0, width });
  const [planeX, planeY] = [(2 * x - 1) * across, (1 - 2 * y) * up];
  const sine = (Math.sin(target.tilt * RADIAN) * Math.sqrt(1 + planeX ** 2 + planeY ** 2)) / Math.sqrt(1 + planeY ** 2);
  const tilt = Math.asin(Math.min(1, Math.max(-1, sine))) - Math.atan(planeY);
  return {
    pan: target.pan - Math.atan2(planeX, Math.cos(tilt) - planeY * Math.sin(tilt)) / RADIAN,
    tilt: tilt / RADIAN,
  };
}

/** Horizontal angle of view at a zoom ratio, degrees: h = 2·atan(tan(h₁/2)/z), h₁ at the wide end. */
export const viewAngleOf = (zoom: number, { wideAngle }: { readonly wideAngle: number }): number =>
  (2 * Math.atan(Math.tan((wideAngle * Math.PI) / 360) / zoom) * 180) / Math.PI;
