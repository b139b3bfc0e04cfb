import type { ProfileFile } from '../show/index';

/** Lamps over the courtyard: OSC without request ids, told every half second to anyone who asks. */
export const HOUSE_LIGHTS: ProfileFile = {
  format: 'umbek-profile',
  version: 1,
  name: 'House lights',
  part: null,
  transport: { kind: 'osc' },
  commands: [
    {
      key: 'level',
      words: 'Set the level of an area',
      params: [
        { key: 'area', title: 'Area', type: 'number', unit: '', min: 1, max: 4, whole: true, start: 1 },
        { key: 'percent', title: 'Level', type: 'number', unit: '%', min: 0, max: 100, whole: true, start: 60 },
      ],
      send: [
        {
          as: 'osc',
          address: '/area/{{ param.area }}/level',
          args: [{ type: 'f', value: { cel: 'param.percent / 100.0' } }],
        },
      ],
      seenOnAir: true,
      repeatable: true,
      delayMs: 30,
      sets: {},
    },
    {
      key: 'dark',
      words: 'All areas dark',
      params: [],
      send: [{ as: 'osc', address: '/dark', args: [] }],
      seenOnAir: true,
      repeatable: true,
      delayMs: 30,
      sets: { area1: 0, area2: 0, area3: 0, area4: 0 },
    },
  ],
  points: [1, 2, 3, 4].map((area) => ({
    key: `area${area}`,
    words: `Level of area ${area}`,
    type: 'number' as const,
    unit: '0–1',
    from: { as: 'osc' as const, address: `/area/${area}/level`, argument: 1 },
    map: {},
  })),
  asks: [{ everyMs: 500, send: { as: 'osc', address: '/levels', args: [] } }],
};

/** The motor of the dome's slit: lines of text over TCP, as a serial box behind a network converter speaks. */
export const DOME_SLIT: ProfileFile = {
  format: 'umbek-profile',
  version: 1,
  name: 'Dome slit',
  part: null,
  transport: { kind: 'tcp', ending: '\r\n' },
  commands: [
    {
      key: 'open',
      words: 'Open the slit so far',
      params: [
        { key: 'percent', title: 'Opening', type: 'number', unit: '%', min: 0, max: 100, whole: true, start: 100 },
      ],
      send: [{ as: 'text', text: 'SLIT {{ param.percent }}' }],
      seenOnAir: true,
      repeatable: true,
      delayMs: 2000,
      sets: { opening: { cel: 'param.percent' }, moving: false },
    },
    {
      key: 'halt',
      words: 'Halt the slit',
      params: [],
      send: [{ as: 'text', text: 'HALT' }],
      seenOnAir: false,
      repeatable: true,
      delayMs: 20,
      sets: { moving: false },
    },
  ],
  points: [
    {
      key: 'opening',
      words: 'Opening of the slit',
      type: 'number',
      unit: '%',
      from: { as: 'text', pattern: '^SLIT=(\\d+)', group: 1 },
      map: {},
    },
    {
      key: 'moving',
      words: 'Slit moves',
      type: 'switch',
      unit: '',
      from: { as: 'text', pattern: 'MOTOR=(RUN|STAND)$', group: 1 },
      map: { RUN: true, STAND: false },
    },
  ],
  asks: [{ everyMs: 400, send: { as: 'text', text: 'STATE?' } }],
};

/** A camera on a mast with a motor of its own make: lines of text over TCP. It names its memory, and says whether it runs: it fills the part of a head. */
export const MAST_CAM: ProfileFile = {
  format: 'umbek-profile',
  version: 1,
  name: 'Mast cam',
  part: 'ptzHead',
  transport: { kind: 'tcp', ending: '\r\n' },
  commands: [
    {
      key: 'recall',
      words: 'Recall a position',
      params: [],
      send: [{ as: 'text', text: 'GO {{ param.number }}' }],
      seenOnAir: true,
      repeatable: true,
      delayMs: 1500,
      sets: {},
    },
    {
      key: 'nudge',
      words: 'Nudge while held',
      params: [],
      send: [{ as: 'text', text: 'RUN {{ param.x }} {{ param.y }}' }],
      seenOnAir: true,
      repeatable: true,
      delayMs: 20,
      sets: {},
    },
    {
      key: 'stop',
      words: 'Stop moving',
      params: [],
      send: [{ as: 'text', text: 'HALT' }],
      seenOnAir: true,
      repeatable: true,
      delayMs: 20,
      sets: {},
    },
  ],
  points: [
    {
      key: 'memory',
      words: 'Memory it stands at',
      type: 'number',
      unit: '',
      from: { as: 'text', pattern: '^AT (\\d+)', group: 1 },
      map: {},
    },
    {
      key: 'travelling',
      words: 'Moving',
      type: 'switch',
      unit: '',
      from: { as: 'text', pattern: '(RUN|STAND)$', group: 1 },
      map: { RUN: true, STAND: false },
    },
  ],
  asks: [{ everyMs: 200, send: { as: 'text', text: 'WHERE?' } }],
};

export const SAMPLE_PROFILES: readonly ProfileFile[] = [HOUSE_LIGHTS, DOME_SLIT, MAST_CAM];
