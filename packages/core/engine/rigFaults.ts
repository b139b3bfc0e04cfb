import { DEVICE_KINDS, GENERIC, kindOf } from '../devices/index';
import { compileProfile } from '../profile/compile';
import { type Device, errorsOf, type ShowDocument } from '../show/index';
import type { Fault } from './compileEntry';

const fault = (weight: Fault['weight'], code: string, message: string, mend: string, path: string): Fault => ({
  weight,
  code,
  message,
  mend,
  path,
});

/** Why a device cannot be used as it stands: its kind, its settings or its address. Undefined when nothing speaks against it. */
export function deviceFault(device: Device, document: ShowDocument): Fault | undefined {
  const kind = kindOf(device, document);
  if (kind === undefined)
    return fault(
      'press',
      'unknown-kind',
      `${device.name} is of a kind that is not known: ${device.kind}.`,
      `Choose one of ${Object.keys(DEVICE_KINDS).join(', ')}.`,
      'kind',
    );
  if (device.kind === GENERIC) {
    const profile = document.profiles.find((candidate) => candidate.key === device.settings.profile);
    if (profile === undefined)
      return fault(
        'press',
        'dangling',
        `There is no profile ${String(device.settings.profile)} for ${device.name}.`,
        'Choose a profile that exists.',
        'settings.profile',
      );
    if (!compileProfile(profile.content).ok)
      return fault(
        'press',
        'bad-profile',
        `The profile of ${device.name} does not hold together.`,
        'See the profile in the Rig.',
        'settings.profile',
      );
  }
  const settings = kind.settings.safeParse(device.settings);
  const [error] = settings.success ? [] : errorsOf(settings.error, 'settings');
  if (error !== undefined) return { ...error, weight: 'schema', message: `${device.name}: ${error.message}` };
  const other = document.devices.find(
    (candidate) => candidate !== device && candidate.host === device.host && candidate.port === device.port,
  );
  if (other !== undefined)
    return fault(
      'press',
      'address-clash',
      `${device.name} and ${other.name} are both at ${device.host}:${device.port}.`,
      'Give one of them another port.',
      'port',
    );
  return undefined;
}

/** Everything of the rig and the panels that does not hold together, each with the path of the entry in the show. */
export function rigFaults(document: ShowDocument): Fault[] {
  const found: Fault[] = [];
  const at = (path: string, item: Fault | undefined): void => {
    if (item !== undefined) found.push({ ...item, path: `${path}.${item.path ?? ''}` });
  };
  const dangling = (what: string, id: string, path: string): void =>
    void found.push(fault('listed', 'dangling', `There is no ${what} ${id}.`, `Choose a ${what} that exists.`, path));
  document.devices.forEach((device, index) => at(`devices.${index}`, deviceFault(device, document)));
  const keysOnce = (list: string, entries: readonly { readonly key: string }[]): void => {
    const listed = new Set<string>();
    entries.forEach(({ key }, index) => {
      if (listed.has(key))
        found.push(
          fault(
            'press',
            'key-clash',
            `The key ${key} is used twice.`,
            'Give this one another key.',
            `${list}.${index}.key`,
          ),
        );
      listed.add(key);
    });
  };
  // A file that was put together by hand: which of two of one id is meant, nobody can say, and no table holds both.
  for (const [list, entries] of Object.entries(document))
    if (Array.isArray(entries)) {
      const met = new Set<unknown>();
      (entries as readonly { readonly id?: unknown }[]).forEach(({ id }, index) => {
        if (id !== undefined && met.has(id))
          found.push(
            fault(
              'schema',
              'id-clash',
              `Two entries have the id ${String(id)}.`,
              'Give one of them another id in the file.',
              `${list}.${index}.id`,
            ),
          );
        met.add(id);
      });
    }
  for (const list of ['devices', 'sources', 'positions', 'values', 'reframes', 'people', 'profiles'] as const)
    keysOnce(list, document[list]);
  // A role stands wherever a source may: the two share their keys.
  keysOnce('roles', [...document.roles, ...document.sources]);
  const [devices, sources, panels, strips] = [
    new Set(document.devices.map((device) => device.key)),
    new Set(document.sources.map((source) => source.key)),
    new Set(document.panels.map((panel) => panel.id)),
    new Set(document.strips.map((strip) => strip.id)),
  ];
  document.positions.forEach(
    (position, index) =>
      devices.has(position.camera) || dangling('device', position.camera, `positions.${index}.camera`),
  );
  document.setUps.forEach(
    (setUp, index) => devices.has(setUp.device) || dangling('device', setUp.device, `setUps.${index}.device`),
  );
  document.roles.forEach(
    (role, index) =>
      role.source === null || sources.has(role.source) || dangling('source', role.source, `roles.${index}.source`),
  );
  document.reframes.forEach(
    (reframe, index) => sources.has(reframe.source) || dangling('source', reframe.source, `reframes.${index}.source`),
  );
  document.strips.forEach(
    (strip, index) => panels.has(strip.panelId) || dangling('panel', strip.panelId, `strips.${index}.panelId`),
  );
  document.buttons.forEach(
    (button, index) => strips.has(button.stripId) || dangling('strip', button.stripId, `buttons.${index}.stripId`),
  );
  document.profiles.forEach(({ content }, index) => {
    const checked = compileProfile(content);
    if (!checked.ok)
      for (const error of checked.error)
        found.push({ ...error, weight: 'schema', path: `profiles.${index}.content.${error.path ?? ''}` });
  });
  return found;
}
