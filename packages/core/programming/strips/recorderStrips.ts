import { NO_ROOM } from '../../engine/selections';
import type { Device, ShowDocument, ShowValue, Step } from '../../show/index';
import { choosers } from './chosenStrips';
import { command, lit, plan, type StripOffer, type StripPlan, toAll } from './plan';

/** Counts the recordings of a show, so that no file gets a name twice. */
const COUNT = {
  key: 'recordings',
  name: 'Number of the recording',
  type: 'number',
  choices: [],
  start: 0,
  atShowStart: 'keep',
} as const satisfies Omit<ShowValue, 'id' | 'order'>;
const VERIFY_MS = 3000;

const count: Step = {
  id: 'count',
  onFail: 'stop',
  kind: 'set',
  target: `value.${COUNT.key}`,
  to: { cel: `value.${COUNT.key} + 1` },
};
const start = (recorder: string): Step =>
  command(
    recorder,
    'start',
    { file: { cel: `"recording-" + string(value.${COUNT.key}) + "-${recorder}"` } },
    `start-${recorder}`,
  );
const all = (recorders: readonly Device[], join: string, of: (key: string) => string): string =>
  recorders.map(({ key }) => of(key)).join(join);

/** Longest condition of a show. A house with more recorders than that has room for is told of room by room. */
const LONGEST = 2000;

/** Starts, and goes on only once every recorder says that it records. */
function started(recorders: readonly Device[]): Step[] {
  const until = all(recorders, ' && ', (key) => `${key}.recording`);
  const keys = recorders.map(({ key }) => key);
  const verify: Step = { id: 'verify', onFail: 'stop', kind: 'wait', until, timeoutMs: VERIFY_MS };
  return [count, toAll(keys, start), ...(until.length <= LONGEST ? [verify] : [])];
}
const stopped = (recorders: readonly Device[]): Step[] => [
  toAll(
    recorders.map(({ key }) => key),
    (key) => command(key, 'stop', {}, `stop-${key}`),
  ),
];

function groupStrip(name: string, legend: string, recorders: readonly Device[], each: boolean): StripPlan {
  return {
    name,
    family: 'clay',
    buttons: [
      plan(`Record ${legend}`, started(recorders), {
        note: `${recorders.length} recorders`,
        lamps: [
          lit(
            all(recorders, ' || ', (key) => `${key}.stoppedUnasked`),
            'armed',
          ),
          lit(
            all(recorders, ' && ', (key) => `${key}.recording`),
            'recording',
          ),
        ].filter(({ when }) => when.length <= LONGEST),
      }),
      plan(`Stop ${legend}`, stopped(recorders), { note: 'touch twice', guard: 'secondTouch' }),
      ...(each
        ? recorders.map((recorder) =>
            plan(recorder.name, started([recorder]), {
              note: `{{ ${recorder.key}.recording ? string(${recorder.key}.elapsed) + " s" : "record" }}`,
              lamps: [lit(`${recorder.key}.stoppedUnasked`, 'armed'), lit(`${recorder.key}.recording`, 'recording')],
            }),
          )
        : []),
    ],
  };
}

/** One start and one stop for whichever room is chosen: a station of another room has its own choice. */
function chosenRoom(document: ShowDocument, rooms: ReadonlyMap<string, readonly Device[]>): StripPlan[] {
  const isChosen = (room: string): string => `chosen.recorderGroup == ${JSON.stringify(room === '' ? NO_ROOM : room)}`;
  const inEach = (steps: (recorders: readonly Device[]) => Step[]): Step[] =>
    [...rooms].map(([room, recorders], at): Step => ({
      id: `room${at + 1}`,
      onFail: 'stop',
      kind: 'if',
      when: isChosen(room),
      steps: steps(recorders),
      otherwise: [],
    }));
  const recording = [...rooms]
    .map(([room, recorders]) => `${isChosen(room)} && ${all(recorders, ' && ', (key) => `${key}.recording`)}`)
    .join(' || ');
  return [
    { name: 'Room', family: 'slate', buttons: choosers(document, 'recorderGroup') },
    {
      name: 'Recorders of the room',
      family: 'clay',
      buttons: [
        plan('Record', inEach(started), {
          note: '{{ chosen.recorderGroup }}',
          lamps: recording.length <= LONGEST ? [lit(recording, 'recording')] : [],
        }),
        plan('Stop', inEach(stopped), { note: 'touch twice', guard: 'secondTouch' }),
      ],
    },
  ];
}

/** Recorders by room, with a start and a stop for each room and for all of them. */
export function recorderOffers(document: ShowDocument, recorders: readonly Device[]): StripOffer[] {
  if (recorders.length === 0) return [];
  const rooms = new Map<string, Device[]>();
  for (const recorder of recorders) rooms.set(recorder.room, [...(rooms.get(recorder.room) ?? []), recorder]);
  const strips =
    rooms.size === 1
      ? [groupStrip('Recorders', 'all', recorders, true)]
      : [
          groupStrip('All recorders', 'all', recorders, false),
          ...[...rooms].map(([room, inRoom]) =>
            groupStrip(room === '' ? NO_ROOM : room, room === '' ? 'the others' : room, inRoom, true),
          ),
        ];
  return [
    {
      key: 'recorders/rooms',
      group: 'Recorders',
      words:
        rooms.size === 1 ? 'Recorders, with a start and a stop for all' : 'Recorders by room, with starts and stops',
      strips,
      values: [COUNT],
      first: true,
    },
    ...(rooms.size === 1
      ? []
      : [
          {
            key: 'recorders/chosen',
            group: 'Recorders',
            words: 'Choose a room, then record or stop it',
            strips: chosenRoom(document, rooms),
            values: [COUNT],
          },
        ]),
  ];
}
