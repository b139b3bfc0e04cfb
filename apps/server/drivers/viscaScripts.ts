import { type DeviceCommand, focusCodeOf, type PtzSettings, speedStepOf, zoomCodeOf } from '@umbek/core/devices';
import type { Direction, HeadCommand, WhiteBalance } from '@umbek/wire/visca';

const FULL_PAN = 24;
const FULL_TILT = 20;

/** The VISCA messages for a command, sent one after the other, each after the last was acknowledged. */
export function scriptOf(command: DeviceCommand, settings: PtzSettings): readonly HeadCommand[] {
  const number = (key: string): number => Number(command.params[key] ?? 0);
  switch (command.command) {
    case 'recall':
      if (number('number') >= 0) return [{ kind: 'recall', number: number('number') }];
      return [...place(number('pan'), number('tilt'), number('zoom'), settings), ...opticsOf(command.params)];
    case 'goTo': {
      const { pan, tilt, zoom } = command.params;
      const move = pan !== undefined && tilt !== undefined ? [absolute(Number(pan), Number(tilt), settings)] : [];
      return zoom === undefined ? move : [...move, { kind: 'zoomDirect', code: zoomCodeOf(Number(zoom), settings) }];
    }
    case 'store':
      return [{ kind: 'store', number: number('number') }];
    case 'drive': {
      const [pan, tilt, zoom] = [number('pan'), number('tilt'), number('zoom')];
      const turn: HeadCommand = {
        kind: 'drive',
        panStep: speedStepOf('pan', Math.abs(pan), settings),
        tiltStep: speedStepOf('tilt', Math.abs(tilt), settings),
        pan: Math.sign(pan) as Direction,
        tilt: Math.sign(tilt) as Direction,
      };
      const lens: HeadCommand | null =
        zoom === 0
          ? null
          : {
              kind: 'zoomDrive',
              direction: zoom > 0 ? 1 : -1,
              step: speedStepOf('zoom', Math.abs(zoom), settings) - 1,
            };
      if (lens === null) return [turn];
      return pan === 0 && tilt === 0 ? [lens] : [turn, lens];
    }
    case 'stop':
      return STOP_SCRIPT;
    case 'home':
      return [{ kind: 'home' }];
    case 'focusMode':
      return [{ kind: 'focusMode', auto: command.params.mode === 'auto' }];
    case 'focus':
      return focusByHand(number('focus'));
    case 'irisMode':
      return [{ kind: 'exposureMode', auto: command.params.mode === 'auto' }];
    case 'iris':
      return irisByHand(number('iris'));
    case 'whiteBalance':
      return [{ kind: 'whiteBalance', mode: String(command.params.mode) as WhiteBalance }];
    case 'power':
      return [{ kind: 'power', on: command.params.on === true }];
    case 'tally':
      return [{ kind: 'tally', on: command.params.on === true }];
    default:
      return [];
  }
}

/** Pan and tilt first: a swing is seen before a zoom is. */
export const STOP_SCRIPT: readonly HeadCommand[] = [
  { kind: 'drive', panStep: 1, tiltStep: 1, pan: 0, tilt: 0 },
  { kind: 'zoomStop' },
];

/** Direct values are taken only by a head that does not decide by itself. */
const focusByHand = (focus: number): readonly HeadCommand[] => [
  { kind: 'focusMode', auto: false },
  { kind: 'focusDirect', code: focusCodeOf(focus) },
];
const irisByHand = (step: number): readonly HeadCommand[] => [
  { kind: 'exposureMode', auto: false },
  { kind: 'irisDirect', step },
];

/** Focus and iris of a position that has its own. */
export const opticsOf = ({ focus, iris }: DeviceCommand['params']): readonly HeadCommand[] => [
  ...(focus === undefined ? [] : focusByHand(Number(focus))),
  ...(iris === undefined ? [] : irisByHand(Number(iris))),
];

/** To a place at given speed steps (pan 1–24, tilt 1–20); angles in degrees. */
export const absoluteAt = (
  pan: number,
  tilt: number,
  panStep: number,
  tiltStep: number,
  settings: PtzSettings,
): HeadCommand => ({
  kind: 'absolute',
  panStep,
  tiltStep,
  panCounts: Math.round(pan * settings.countsPerDegree),
  tiltCounts: Math.round(tilt * settings.countsPerDegree),
});

const absolute = (pan: number, tilt: number, settings: PtzSettings): HeadCommand =>
  absoluteAt(pan, tilt, FULL_PAN, FULL_TILT, settings);

const place = (pan: number, tilt: number, zoom: number, settings: PtzSettings): readonly HeadCommand[] => [
  absolute(pan, tilt, settings),
  { kind: 'zoomDirect', code: zoomCodeOf(zoom, settings) },
];
