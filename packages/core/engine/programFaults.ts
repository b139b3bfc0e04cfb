import { placesOf, type ShowDocument } from '../show/index';
import type { CompiledEntry, Fault } from './compileEntry';
import type { Facts } from './programFacts';
import { rigFaults } from './rigFaults';

/** Where faults are collected from. */
export interface FaultSources {
  compiledOf(id: string): CompiledEntry | undefined;
  factsOf(id: string): Facts;
  deviceFault(key: string): Fault | undefined;
}

const DEEP = 'nested-too-deep';

/** Everything of a show that does not hold together, with the path of each. */
export function faultsOf(document: ShowDocument, look: FaultSources): readonly Fault[] {
  const found = [...rigFaults(document)];
  const listed = new Set<string>();
  const add = (list: 'buttons' | 'macros' | 'triggers', index: number, id: string): void => {
    for (const fault of look.compiledOf(id)?.faults ?? [])
      found.push({ ...fault, path: `${list}.${index}.${fault.path ?? ''}` });
    const { fault, circle } = look.factsOf(id);
    // A circle is told once, at the first macro of it.
    const isNew =
      circle === null
        ? fault?.path === 'steps' &&
          (fault.code === 'move-without-end' || (fault.code === DEEP && !(list === 'macros' && listed.has(DEEP))))
        : circle.includes(id) && !listed.has([...circle].sort().join());
    if (circle !== null) listed.add([...circle].sort().join());
    // Of a long chain of macros the first one stands for all, and each button that begins one.
    if (fault?.code === DEEP) listed.add(DEEP);
    if (fault !== undefined && isNew) found.push({ ...fault, path: `${list}.${index}.steps` });
  };
  document.macros.forEach((macro, index) => add('macros', index, macro.id));
  document.buttons.forEach((button, index) => add('buttons', index, button.id));
  document.triggers.forEach((trigger, index) => add('triggers', index, trigger.id));
  return found;
}

/** Faults of the weight `schema` in these entries: what an edit may not bring in. */
export function schemaFaultsOf(
  ids: ReadonlySet<string>,
  document: ShowDocument,
  look: Pick<FaultSources, 'compiledOf' | 'deviceFault'>,
): readonly Fault[] {
  const found: Fault[] = [];
  for (const list of ['buttons', 'macros', 'triggers'] as const)
    for (const id of ids) {
      const index = placesOf(document, list).get(id);
      if (index === undefined) continue;
      for (const fault of look.compiledOf(id)?.faults ?? [])
        if (fault.weight === 'schema') found.push({ ...fault, path: `${list}.${index}.${fault.path ?? ''}` });
    }
  for (const id of ids) {
    const index = placesOf(document, 'devices').get(id);
    const fault = look.deviceFault(document.devices[index ?? -1]?.key ?? '');
    if (fault?.weight === 'schema') found.push({ ...fault, path: `devices.${index}.${fault.path ?? ''}` });
  }
  if (document.profiles.some((profile) => ids.has(profile.id)))
    found.push(
      ...rigFaults(document).filter(
        (fault) => fault.weight === 'schema' && fault.path?.startsWith('profiles.') === true,
      ),
    );
  return found;
}
