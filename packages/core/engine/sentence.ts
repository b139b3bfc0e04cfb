import { kindOf } from '../devices/index';
import { type Argument, type ShowDocument, type Step, unreachable } from '../show/index';

const plain = (argument: Argument | undefined): string =>
  argument === undefined ? '' : typeof argument === 'object' ? argument.cel : String(argument);

const seconds = (ms: number): string => `${Number((ms / 1000).toFixed(2))} s`;

/** A step as a sentence, with the names of today: "Recall Ines close on Desk cam". */
export function sentenceOf(step: Step, document: ShowDocument): string {
  switch (step.kind) {
    case 'command': {
      const device = document.devices.find((one) => one.key === step.device);
      const definition = kindOf(device, document)?.commands[step.command];
      const deviceName = device?.name ?? (step.device === 'chosen.camera' ? 'the chosen camera' : step.device);
      if (definition?.phrase !== undefined) {
        return definition.phrase.replace(/\{(\w+)\}/g, (_all, key: string) => (key === 'device' ? deviceName : nameOf(step.params[key] ?? '…', document)));
      }
      const named = Object.entries(step.params).map(([, argument]) => nameOf(argument, document)).filter(Boolean);
      const what = named.length > 0 ? `: ${named.join(', ')}` : '';
      return `${definition?.words ?? step.command}${what} · ${deviceName}`;
    }
    case 'pause':
      return 'ms' in step.length ? `Pause ${seconds(step.length.ms)}` : `Pause ${step.length.frames} f`;
    case 'wait':
      return `${waitWords(step.until, document)}, at most ${seconds(step.timeoutMs)}`;
    case 'set':
      return setWords(step.target, step.to, document);
    case 'run':
      return `Run ${document.macros.find((macro) => macro.id === step.macro)?.name ?? 'a macro'}`;
    case 'together':
      return `At once: ${step.steps.map((one) => sentenceOf(one, document)).join(' + ')}`;
    default:
      return unreachable(step);
  }
}

function nameOf(argument: Argument, document: ShowDocument): string {
  const text = plain(argument);
  const thing = document.positions.find((one) => one.key === text) ?? document.sources.find((one) => one.key === text) ?? document.roles.find((one) => one.key === text) ?? document.reframes.find((one) => one.key === text);
  return thing?.name ?? text;
}

/** A value or a selection by its name. */
function setWords(target: string, to: Argument, document: ShowDocument): string {
  const [scope = '', key = ''] = target.split('.');
  if (scope === 'chosen') return `Choose ${document.devices.find((one) => one.key === to)?.name ?? plain(to)} as the ${key}`;
  return `Set ${document.values.find((one) => one.key === key)?.name ?? target} to ${plain(to)}`;
}

/** The usual wait in people's words; other conditions stand as they are written. */
function waitWords(until: string, document: ShowDocument): string {
  const arrived = /^([a-z][A-Za-z0-9]*)\.arrived == "([A-Za-z0-9]+)"$/.exec(until);
  const device = document.devices.find((one) => one.key === arrived?.[1]);
  return device ? `Wait until ${device.name} has arrived` : `Wait until ${until}`;
}
