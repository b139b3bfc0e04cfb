import { pointsOf } from '../../devices/index';
import { UNKNOWN, type Verdict } from '../../expression/index';
import { timecodeText } from '../../show/index';
import type { Program } from '../program';

/** A key of the board with what it is, as people say it: "Switcher: source on program is Roof cam". */
export function keyWords(key: string, value: Verdict, program: Program): string {
  const { document } = program;
  const at = key.indexOf('@');
  if (at > 0) {
    const name = key.slice(at + 1);
    const source = program.sources.get(name)?.name ?? program.roles.get(name)?.name ?? name;
    if (key.startsWith('onAir@')) return `${source} is ${value === true ? '' : 'not '}on air`;
    if (key.startsWith('onPreview@')) return `${source} is ${value === true ? '' : 'not '}on preview`;
    if (key.startsWith('picture@')) return `the picture of ${source} is ${plainWords(value)}`;
    if (key.startsWith('chosen@'))
      return `chosen ${name.slice(name.indexOf('.') + 1)} is ${chosenWords(value, program)}`;
  }
  const dot = key.indexOf('.');
  const [scope, name] = [key.slice(0, dot), key.slice(dot + 1)];
  if (scope === 'value') {
    const held = document.values.find((candidate) => candidate.key === name);
    return `${held?.name ?? key} is ${plainWords(value)}`;
  }
  const device = program.devices.get(scope);
  if (device === undefined) return `${key} is ${plainWords(value)}`;
  if (name === 'reached') return `${device.name} ${value === true ? 'answers' : 'does not answer'}`;
  const point = pointsOf(device, document)[name];
  if (point === undefined) return `${device.name}: ${name} is ${plainWords(value)}`;
  const words = point.words.charAt(0).toLowerCase() + point.words.slice(1);
  if (point.means === 'input' && typeof value === 'number')
    return `${device.name}: ${words} is ${document.sources.find(({ input }) => input === value)?.name ?? value}`;
  if (point.means === 'timecode' && typeof value === 'number')
    return `${device.name}: ${words} is ${timecodeText(value, document.show.frameRate)}`;
  if (typeof value === 'boolean') return `${device.name}: ${words}: ${value ? 'yes' : 'no'}`;
  return `${device.name}: ${words} is ${plainWords(value)}${point.unit === undefined ? '' : ` ${point.unit}`}`;
}

const chosenWords = (value: Verdict, program: Program): string =>
  program.devices.get(String(value))?.name ??
  program.sources.get(String(value))?.name ??
  program.document.people.find(({ key }) => key === value)?.name ??
  plainWords(value);

const plainWords = (value: Verdict): string =>
  value === UNKNOWN
    ? 'not known'
    : value === ''
      ? 'empty'
      : value === true
        ? 'on'
        : value === false
          ? 'off'
          : typeof value === 'number'
            ? String(Math.round(value * 100) / 100)
            : String(value);
