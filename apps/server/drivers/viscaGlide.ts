import { type DeviceCommand, glideStep, type PtzSettings, stepSpeedOf, zoomCodeOf } from '@umbek/core/devices';
import type { HeadCommand } from '@umbek/wire/visca';
import { absoluteAt, opticsOf } from './viscaScripts';

/** Zoom that is driven slowly towards a code and has to be landed there: the protocol's own way to a code knows only full speed. */
export interface Landing {
  readonly code: number;
  readonly direction: 1 | -1;
  /** Motor codes a second of the drive. */
  readonly speed: number;
  readonly seconds: number;
}

export interface Glide {
  readonly script: readonly HeadCommand[];
  readonly landing: Landing | null;
}

/** A reading is so old when it comes, at the most: the poll's interval and its way back, seconds. */
const LEAD_S = 0.12;

/**
 * A recall or a way that is to take so many seconds, as messages: pan and tilt with the nearest speed steps, zoom as a slow drive that is
 * landed afterwards. Null when it is to go at the head's own speed, or nobody knows where it stands.
 */
export function glideOf(
  { command, params }: DeviceCommand,
  from: { readonly pan: number | null; readonly tilt: number | null; readonly zoom: number | null },
  settings: PtzSettings,
): Glide | null {
  const seconds = Number(params.seconds ?? 0);
  if (
    !(seconds > 0) ||
    (command !== 'recall' && command !== 'goTo') ||
    from.pan === null ||
    from.tilt === null ||
    from.zoom === null
  )
    return null;
  const to = {
    pan: Number(params.pan ?? from.pan),
    tilt: Number(params.tilt ?? from.tilt),
    zoom: Number(params.zoom ?? from.zoom),
  };
  const script: HeadCommand[] = [
    absoluteAt(
      to.pan,
      to.tilt,
      glideStep('pan', from.pan, to.pan, seconds, settings),
      glideStep('tilt', from.tilt, to.tilt, seconds, settings),
      settings,
    ),
  ];
  const [start, code] = [zoomCodeOf(from.zoom, settings), zoomCodeOf(to.zoom, settings)];
  const step = glideStep('zoom', start, code, seconds, settings);
  const landing: Landing | null =
    start === code
      ? null
      : { code, direction: code > start ? 1 : -1, speed: stepSpeedOf('zoom', step, settings), seconds };
  if (landing !== null) script.push({ kind: 'zoomDrive', direction: landing.direction, step: step - 1 });
  return { script: [...script, ...opticsOf(params)], landing };
}

/** Whether a zoom is so near to its code that it is to be sent there; also when it takes far longer than it should. */
export function isNear(
  { code, direction, speed, seconds }: Landing,
  zoom: number,
  since: number,
  now: number,
  settings: PtzSettings,
): boolean {
  const left = (code - zoomCodeOf(zoom, settings)) * direction;
  return left <= speed * LEAD_S || now - since > seconds * 2000 + 2000;
}
