import { midiOn } from '@umbek/core/shortcut';

type Heard = NonNullable<ReturnType<typeof midiOn>>;

/** What of Web MIDI is used here. */
interface MidiInput extends EventTarget {
  readonly id: string;
  readonly type: string;
  readonly state: string;
  readonly name?: string | null;
}
interface MidiOutput extends MidiInput {
  send(bytes: readonly number[]): void;
}
interface MidiAccess extends EventTarget {
  readonly inputs: ReadonlyMap<string, MidiInput>;
  readonly outputs: ReadonlyMap<string, MidiOutput>;
}
interface MidiNavigator {
  requestMIDIAccess?(options: { readonly sysex: boolean }): Promise<MidiAccess>;
}

/** Whether this browser knows MIDI at all; it asks the person when it is used for the first time. */
export const knowsMidi = (): boolean => (navigator as MidiNavigator).requestMIDIAccess !== undefined;

/**
 * Listens to every MIDI input, those that are plugged in later as well.
 * @param heard what was pressed or let go, by which input, and what that is called
 * @param gone an input was pulled out
 * @returns what ends it
 */
export function listenMidi(
  heard: (port: string, what: Heard, name: string) => void,
  gone: (port: string) => void,
): () => void {
  const ending = new AbortController();
  const { signal } = ending;
  const known = new WeakSet<MidiInput>();
  const attach = (input: MidiInput): void => {
    if (known.has(input)) return;
    known.add(input);
    input.addEventListener(
      'midimessage',
      (event) => {
        const what = midiOn((event as Event & { readonly data?: Uint8Array }).data ?? []);
        if (what !== null) heard(input.id, what, input.name ?? '');
      },
      { signal },
    );
  };
  (navigator as MidiNavigator).requestMIDIAccess?.({ sysex: false }).then(
    (access) => {
      if (signal.aborted) return;
      access.inputs.forEach(attach);
      access.addEventListener(
        'statechange',
        (event) => {
          const { port } = event as Event & { readonly port?: MidiInput };
          if (port?.type !== 'input') return;
          if (port.state === 'disconnected') gone(port.id);
          else attach(port);
        },
        { signal },
      );
    },
    // Refused by the person or the system: nothing comes.
    () => undefined,
  );
  return () => ending.abort();
}

/**
 * The MIDI outputs of this machine.
 * @param open told once they are there, and each time that one is plugged in
 * @returns what sends to those of a name, and what ends it
 */
export function openMidiOut(open: () => void): {
  readonly send: (names: ReadonlySet<string>, bytes: readonly number[]) => void;
  readonly close: () => void;
} {
  const ending = new AbortController();
  const { signal } = ending;
  let outputs: ReadonlyMap<string, MidiOutput> = new Map();
  (navigator as MidiNavigator).requestMIDIAccess?.({ sysex: false }).then(
    (access) => {
      if (signal.aborted) return;
      ({ outputs } = access);
      access.addEventListener(
        'statechange',
        (event) => {
          const { port } = event as Event & { readonly port?: MidiInput };
          if (port?.type === 'output' && port.state === 'connected') open();
        },
        { signal },
      );
      open();
    },
    () => undefined,
  );
  return {
    send: (names, bytes) => {
      for (const output of outputs.values()) {
        if (!names.has(output.name ?? '')) continue;
        try {
          output.send(bytes);
        } catch {
          // Pulled out this moment: it is told anew when it comes back.
        }
      }
    },
    close: () => ending.abort(),
  };
}
