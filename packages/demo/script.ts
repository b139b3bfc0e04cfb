import { changed, made } from '@umbek/core/changes';
import { orderBetween } from '@umbek/core/order';
import { newButton, newMacro, newPanel, newStrip, newTrigger, occasionChoices } from '@umbek/core/programming';
import {
  applyEdit,
  type Button,
  type Change,
  type Macro,
  type ShowDocument,
  type Trigger,
  Voices,
} from '@umbek/core/show';
import { demoId } from './demoId';
import { panelsOf } from './panels';
import { command } from './steps';

type Programmed = Pick<ShowDocument, 'panels' | 'strips' | 'buttons' | 'stations' | 'triggers' | 'macros'>;

/** The stations of the demo: where each stands, what it opens on, and with whom it shares what is chosen. */
const STATIONS: readonly {
  readonly name: string;
  readonly place: string;
  readonly opensOn: string;
  readonly linkGroup: string;
  /** Strips of its panel that it shows; left out: all of them. */
  readonly part?: readonly string[];
}[] = [
  { name: 'Phone', place: 'in hand', opensOn: 'Main', linkGroup: 'main' },
  { name: 'Dome left', place: 'dome, left of the host', opensOn: 'Routing', linkGroup: 'dome' },
  { name: 'Dome right', place: 'dome, right of the host', opensOn: 'Routing', linkGroup: 'dome' },
  { name: 'Gate room', place: 'gate room', opensOn: 'Recording', linkGroup: 'gate-room' },
  // A pad with keys that runs the moments of the show, beside the station that has all of them.
  {
    name: 'Moments pad',
    place: 'beside the desk',
    opensOn: 'Main',
    linkGroup: 'main',
    part: ['Moments', 'Names', 'Boards'],
  },
];

/** Levels and times of the demo's microphones, as they are proposed. */
const HEARD = Voices.parse({ kind: 'voices', switcher: 'switcher', mics: [] });

/** The triggers of the demo, each begun from what the editor offers and changed from there. */
const TRIGGERS: readonly ({ readonly begins: string } & Partial<Trigger>)[] = [
  {
    begins: 'While Roof cam is on air',
    name: 'Count board over the sky',
    group: 'Captions',
    steps: [command('board', 'captions', 'countIn', { count: { cel: 'value.meteors' }, label: 'Meteors', ms: 400 })],
    // Roof cam is on air when the demo begins: whoever arms it sees at once what it does.
    atStart: 'disarmed',
  },
  {
    begins: 'When Spool: clip on channel 1, layer 1 has ended',
    name: 'Opening film ends',
    on: { kind: 'turns', condition: 'spool.ch1Layer1Ended && spool.ch1Layer1Clip == "Opening film"', to: true },
    steps: [
      command('next', 'switcher', 'preview', { source: 'deskCam' }),
      command('mix', 'switcher', 'mix', { frames: 50 }),
    ],
  },
  {
    begins: 'When Captions: countdown is up',
    name: 'The countdown reaches zero',
    group: 'Captions',
    on: { kind: 'turns', condition: 'captions.countdownUp && captions.countdownLeft == 0', to: true },
    steps: [
      command('out', 'captions', 'countdownOut', { ms: 300 }),
      command('peak', 'captions', 'nameIn', { name: 'The peak', title: 'Most meteors of the night', ms: 400 }),
    ],
  },
  {
    begins: 'Microphones choose the shot',
    name: 'The desk talks',
    group: 'Sound',
    on: {
      ...HEARD,
      mics: [
        { name: 'Ines', level: 'sound.ch1Level', source: 'deskCam', position: 'inesClose' },
        { name: 'Tomasz', level: 'sound.ch2Level', source: 'lawnCam', position: '' },
      ],
    },
  },
  {
    begins: 'When Dome room 1 stopped unasked',
    name: 'The program recorder stopped',
    group: 'Recording',
    steps: [
      {
        id: 'alarm',
        onFail: 'stop',
        kind: 'ask',
        question: 'Dome room 1 stopped by itself. Start it again?',
        timeoutMs: 600_000,
        onTimeout: 'stop',
      },
      command('start', 'recorder1', 'start', { file: 'Program after a stop' }),
    ],
  },
];

/** The macros of the demo beside the opening, as far as their parts are there. */
const MACROS: readonly Partial<Macro>[] = [
  {
    name: 'Meteor!',
    folder: 'Moments',
    again: 'ignore',
    owns: ['secondLook'],
    atStop: 'asBefore',
    steps: [
      command('mark', 'secondLook', 'mark', { ago: 2 }),
      {
        id: 'sky',
        onFail: 'stop',
        kind: 'together',
        steps: [
          command('roof', 'switcher', 'program', { source: 'roofCam' }),
          { id: 'one', onFail: 'stop', kind: 'set', target: 'value.meteors', to: { cel: 'value.meteors + 1' } },
        ],
      },
      {
        id: 'board',
        onFail: 'stop',
        kind: 'if',
        when: 'captions.countUp',
        steps: [command('count', 'captions', 'countSet', { count: { cel: 'value.meteors' } })],
        otherwise: [
          command('board', 'captions', 'countIn', { count: { cel: 'value.meteors' }, label: 'Meteors', ms: 400 }),
        ],
      },
      { id: 'look', onFail: 'stop', kind: 'pause', length: { ms: 8000 } },
      {
        id: 'again',
        onFail: 'stop',
        kind: 'group',
        name: 'See it again, half as fast',
        steps: [
          command('cue', 'secondLook', 'cue', { mark: 0, channel: 1, angle: 1, speed: 50 }),
          { id: 'cued', onFail: 'stop', kind: 'wait', until: 'secondLook.ch1Stage == "cued"', timeoutMs: 2000 },
          command('roll', 'secondLook', 'play', { channel: 1 }),
        ],
      },
      // The board stays with what it counts; the picture goes back to what it was.
      { id: 'back', onFail: 'stop', kind: 'restore', devices: ['switcher'] },
    ],
  },
  {
    name: 'Coffee break',
    folder: 'Breaks',
    again: 'ignore',
    steps: [
      {
        id: 'ready',
        onFail: 'stop',
        kind: 'together',
        steps: [
          command('loop', 'spool', 'cue', { clip: 'Holding loop', loop: true }),
          command('next', 'switcher', 'preview', { source: 'spool' }),
        ],
      },
      command('play', 'spool', 'play', {}),
      command('mix', 'switcher', 'mix', { frames: 50 }),
      command('out', 'captions', 'nameOut', { ms: 300 }),
      {
        id: 'talk',
        onFail: 'stop',
        kind: 'note',
        text: 'Both desk microphones stay open until the mix is over.',
      },
    ],
  },
  {
    name: 'Closing',
    folder: 'Moments',
    steps: [
      {
        id: 'clean',
        onFail: 'goOn',
        kind: 'together',
        steps: [
          command('name', 'captions', 'nameOut', { ms: 300 }),
          command('board', 'captions', 'countOut', { ms: 300 }),
        ],
      },
      command('sky', 'switcher', 'preview', { source: 'roofCam' }),
      command('mix', 'switcher', 'mix', { frames: 100 }),
      {
        id: 'end',
        onFail: 'stop',
        kind: 'ask',
        question: 'To black?',
        timeoutMs: 120_000,
        onTimeout: 'stop',
      },
      command('black', 'switcher', 'preview', { source: 'black' }),
      command('last', 'switcher', 'mix', { frames: 100 }),
    ],
  },
  {
    name: 'Go to station',
    folder: 'Stations',
    again: 'ignore',
    atStop: 'asBefore',
    params: [{ key: 'guest', start: 'Marit Solvang' }],
    steps: [
      command('line', 'lines', 'putOnLine', { guest: { cel: 'param.guest' }, line: 1 }),
      { id: 'there', onFail: 'stop', kind: 'wait', until: 'lines.line1Connected', timeoutMs: 8000 },
      {
        id: 'all',
        onFail: 'stop',
        kind: 'together',
        steps: [
          command('next', 'switcher', 'preview', { source: 'line1' }),
          command('name', 'captions', 'nameIn', { name: { cel: 'param.guest' }, title: 'Remote station', ms: 400 }),
        ],
      },
      command('mix', 'switcher', 'mix', { frames: 25 }),
      { id: 'read', onFail: 'stop', kind: 'pause', length: { ms: 6000 } },
      command('out', 'captions', 'nameOut', { ms: 300 }),
    ],
  },
];

/** The panels of the demo, made as an engineer makes them: each panel, strip and button new, then changed field by field, one edit after the other. */
function make(rig: ShowDocument): Programmed {
  let show = rig;
  const edit = (...changes: Change[]): void => {
    const next = applyEdit(show, { changes });
    if (!next.ok) throw new Error(`The demo cannot be made: ${JSON.stringify(next.error[0])}`);
    show = next.value;
  };
  let [strips, buttons] = [0, 0];
  for (const [at, { name, strips: plans }] of panelsOf(rig).entries()) {
    const panel = newPanel(show, demoId('PAN', at + 1));
    edit(made('panels', panel));
    edit(changed('panels', panel, 'name', name));
    for (const plan of plans) {
      const strip = newStrip(show, demoId('STR', (strips += 1)), panel.id);
      edit(made('strips', strip));
      edit(changed('strips', strip, 'name', plan.name), changed('strips', strip, 'family', plan.family));
      plan.buttons.forEach((wanted, index) => {
        const number = plan.firstButton === undefined ? (buttons += 1) : plan.firstButton + index;
        const button = newButton(show, demoId('BTN', number), strip.id);
        edit(made('buttons', button));
        edit(
          ...(Object.entries(wanted) as [keyof Button & string, never][]).map(([field, to]) =>
            changed('buttons', button, field, to),
          ),
        );
      });
    }
  }
  for (const [at, { name, place, opensOn, linkGroup, part = [] }] of STATIONS.entries()) {
    const panel = show.panels.find((candidate) => candidate.name === opensOn);
    if (panel === undefined) throw new Error(`The demo has no panel ${opensOn}.`);
    const shown = show.strips.filter((strip) => strip.panelId === panel.id && part.includes(strip.name));
    if (shown.length !== part.length) throw new Error(`The demo has no such part of ${opensOn}.`);
    const order = orderBetween(show.stations.at(-1)?.order ?? null, null);
    edit(
      made('stations', {
        id: demoId('STA', at + 1),
        name,
        place,
        panels: [],
        opensOn: panel.id,
        linkGroup,
        loose: [],
        parts: part.length === 0 ? [] : [{ panel: panel.id, strips: shown.map(({ id }) => id) }],
        placed: [],
        order,
      }),
    );
  }
  for (const [at, wanted] of MACROS.entries()) {
    const macro = newMacro(show, demoId('MAC', at + 2));
    edit(made('macros', macro));
    edit(
      ...(Object.entries(wanted) as [keyof Macro & string, never][]).map(([field, to]) =>
        changed('macros', macro, field, to),
      ),
    );
  }
  for (const [at, { begins, ...wanted }] of TRIGGERS.entries()) {
    const choice = occasionChoices(show).find(({ words }) => words === begins);
    if (choice === undefined) throw new Error(`The demo has nothing like "${begins}".`);
    const trigger = newTrigger(show, demoId('TRG', at + 1), choice);
    edit(made('triggers', trigger));
    edit(
      ...(Object.entries(wanted) as [keyof Trigger & string, never][]).map(([field, to]) =>
        changed('triggers', trigger, field, to),
      ),
    );
  }
  const { stations, panels, triggers, macros } = show;
  return { stations, panels, strips: show.strips, buttons: show.buttons, triggers, macros };
}

let once: Programmed | null = null;

/** A rig with the panels of the demo. They do not depend on where its devices stand, and are made once. */
export const programmed = (rig: ShowDocument): ShowDocument => ({ ...rig, ...(once ??= make(rig)) });
