/**
 * The painted place: Corvane Hill at night, all around. Directions are compass degrees (right positive) and elevation; 0 is where the Desk
 * cam looks at pan 0. Painted back to front; every shape is ours.
 */
export interface Shape {
  readonly fill: string;
  /** Corners as direction and elevation. */
  readonly points: readonly (readonly [number, number])[];
  readonly opacity?: number;
}

/** A silhouette or a band of sky: everything below a line of elevations. */
export interface Horizon {
  readonly fill: string;
  readonly height: (direction: number) => number;
}

const RADIAN = Math.PI / 180;
const wave = (
  direction: number,
  ...parts: readonly (readonly [times: number, size: number, shift: number])[]
): number =>
  parts.reduce((sum, [times, size, shift]) => sum + size * Math.sin((direction * times + shift) * RADIAN), 0);
const level = (elevation: number) => (): number => elevation;

export const ZENITH = '#070D24';

/** How many of the horizons are sky; the stars come between them and the hills. */
export const SKY = 12;

export const HORIZONS: readonly Horizon[] = [
  { fill: '#080F29', height: level(70) },
  { fill: '#0A1230', height: level(58) },
  { fill: '#0C1637', height: level(48) },
  { fill: '#0E193D', height: level(38) },
  { fill: '#101D43', height: level(31) },
  { fill: '#13224A', height: level(24) },
  { fill: '#162850', height: level(18.5) },
  { fill: '#1A2D57', height: level(14) },
  { fill: '#1F345C', height: level(10) },
  { fill: '#243A62', height: level(7) },
  { fill: '#2D4166', height: level(5) },
  { fill: '#38496A', height: level(3.2) },
  { fill: '#141F38', height: (direction) => 5.2 + wave(direction, [3, 2.4, 20], [7, 1.1, 80], [13, 0.5, 10]) },
  { fill: '#0E1829', height: (direction) => 2.4 + wave(direction, [2, 1.7, 140], [9, 0.7, 30], [17, 0.35, 0]) },
  { fill: '#151C20', height: (direction) => -1.6 + wave(direction, [4, 0.4, 60], [11, 0.2, 0]) },
];

/** A seeded sequence of fractions (mulberry32), so that the sky is the same on every screen. */
export function seeded(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

export interface Star {
  readonly direction: number;
  readonly elevation: number;
  /** 0 faint, 1 plain, 2 bright. */
  readonly grade: 0 | 1 | 2;
}

const random = seeded(1204);
export const STARS: readonly Star[] = Array.from({ length: 620 }, (): Star => {
  // More of them along a band across the sky, as the galaxy lies.
  const direction = random() * 360 - 180;
  const band = 34 + 22 * Math.sin((direction + 40) * RADIAN);
  const elevation = random() < 0.45 ? band + (random() - 0.5) * 22 : 6 + (80 * Math.asin(random())) / (Math.PI / 2);
  const luck = random();
  return { direction, elevation: Math.max(5.5, elevation), grade: luck > 0.93 ? 2 : luck > 0.6 ? 1 : 0 };
});

const round = (direction: number, elevation: number, across: number, up: number, count = 20): [number, number][] =>
  Array.from({ length: count }, (_, at) => {
    const angle = (at / count) * 2 * Math.PI;
    return [
      direction + (across * Math.cos(angle)) / Math.max(0.2, Math.cos(elevation * RADIAN)),
      elevation + up * Math.sin(angle),
    ];
  });
const arc = (
  direction: number,
  elevation: number,
  across: number,
  up: number,
  from: number,
  to: number,
  count = 14,
): [number, number][] =>
  Array.from({ length: count + 1 }, (_, at) => {
    const angle = (from + ((to - from) * at) / count) * RADIAN;
    return [direction + across * Math.cos(angle), elevation + up * Math.sin(angle)];
  });
/** Long edges are cut up, because a level line is a curve in the picture. */
const box = (left: number, right: number, bottom: number, top: number): [number, number][] => {
  const count = Math.max(1, Math.ceil((right - left) / 4));
  const along = (elevation: number): [number, number][] =>
    Array.from({ length: count + 1 }, (_, at) => [left + ((right - left) * at) / count, elevation]);
  return [...along(top), ...along(bottom).reverse()];
};

const moon: Shape[] = [
  { fill: '#C9B98A', points: round(-25, 12.5, 1.9, 1.9, 28) },
  { fill: '#B3A273', points: round(-25.5, 13, 0.45, 0.4, 10) },
  { fill: '#B3A273', points: round(-24.2, 12, 0.35, 0.3, 10) },
  { fill: '#B3A273', points: round(-25.1, 11.6, 0.28, 0.22, 10) },
];

/** The dome as it is seen from the courtyard, on its knoll. */
const farDome: Shape[] = [
  {
    fill: '#1A2435',
    points: [
      [38, -1],
      [43, 3.2],
      [48, 4.4],
      [53, 3.4],
      [60, -1],
    ],
  },
  {
    fill: '#8B93A3',
    points: [
      [45.2, 3.6],
      [50.8, 3.6],
      [50.8, 5.2],
      [45.2, 5.2],
    ],
  },
  { fill: '#B9BFCB', points: [...arc(48, 5.1, 2.9, 3.1, 0, 180, 18)] },
  { fill: '#9299A8', points: [[48, 5.1], ...arc(48, 5.1, 2.9, 3.1, 0, 70, 8)] },
  {
    fill: '#232B45',
    points: [
      [47.4, 5.4],
      [48.8, 5.4],
      [48.7, 7.9],
      [47.7, 8],
    ],
  },
];

const lantern = (direction: number): Shape[] => [
  {
    fill: '#2B2A2A',
    points: [
      [direction - 0.16, -3],
      [direction + 0.16, -3],
      [direction + 0.12, 6],
      [direction - 0.12, 6],
    ],
  },
  { fill: '#F2C66A', points: round(direction, 6.5, 1.9, 1.9, 18), opacity: 0.16 },
  { fill: '#F7D98F', points: round(direction, 6.5, 0.55, 0.6, 12) },
];

interface Person {
  readonly at: number;
  readonly skin: string;
  readonly shade: string;
  readonly hair: string;
  readonly coat: string;
  readonly lapel: string;
  readonly long: boolean;
}

/** Head and shoulders behind the desk, drawn for a close shot of about 16° by 9°. */
const presenter = ({ at, skin, shade, hair, coat, lapel, long }: Person): Shape[] => [
  ...(long
    ? [
        {
          fill: hair,
          points: [
            [at - 2, 5.2],
            [at + 2, 5.2],
            [at + 2.25, 1],
            [at + 1.4, 0.2],
            [at - 1.5, 0.2],
            [at - 2.3, 1],
          ] as [number, number][],
        },
      ]
    : []),
  {
    fill: coat,
    points: [
      [at - 5.4, -5],
      [at - 5, -1.2],
      [at - 3.6, 0.5],
      [at - 1.1, 1.25],
      [at + 1.1, 1.25],
      [at + 3.6, 0.5],
      [at + 5, -1.2],
      [at + 5.4, -5],
    ],
  },
  {
    fill: lapel,
    points: [
      [at - 1.1, 1.25],
      [at, -2.4],
      [at + 1.1, 1.25],
    ],
  },
  {
    fill: shade,
    points: [
      [at - 0.75, 2.2],
      [at + 0.75, 2.2],
      [at + 0.85, 0.9],
      [at, 0.15],
      [at - 0.85, 0.9],
    ],
  },
  { fill: skin, points: round(at, 3.75, 1.6, 2.05, 24) },
  {
    fill: shade,
    points: [
      [at + 0.5, 5.4],
      [at + 1.55, 4.2],
      [at + 1.3, 2.6],
      [at + 0.5, 1.8],
      [at + 1, 3.4],
    ],
    opacity: 0.5,
  },
  {
    fill: hair,
    points: [
      ...arc(at, 4.35, 1.78, 1.85, 0, 180, 14),
      [at - 1.55, 4.6],
      [at - 0.9, 5.05],
      [at + 0.2, 5.2],
      [at + 1.1, 4.9],
    ],
  },
  { fill: '#20242C', points: round(at - 0.62, 3.95, 0.17, 0.14, 8) },
  { fill: '#20242C', points: round(at + 0.62, 3.95, 0.17, 0.14, 8) },
  {
    fill: '#8E3F3B',
    points: [
      [at - 0.55, 2.72],
      [at, 2.6],
      [at + 0.55, 2.72],
      [at, 2.42],
    ],
  },
  ...(long
    ? []
    : [
        {
          fill: hair,
          points: [
            [at - 1.3, 3],
            [at - 1, 2.1],
            [at, 1.6],
            [at + 1, 2.1],
            [at + 1.3, 3],
            [at + 0.7, 2.35],
            [at, 2.2],
            [at - 0.7, 2.35],
          ] as [number, number][],
        },
      ]),
];

const courtyard: Shape[] = [
  { fill: '#1F2428', points: box(-58, 58, -4.5, -0.4) },
  { fill: '#282F33', points: box(-58, 58, -0.7, -0.1) },
  { fill: '#12181B', points: box(-70, 70, -60, -4.5) },
  ...lantern(-31),
  ...lantern(31),
  ...presenter({
    at: -12.45,
    skin: '#C98B62',
    shade: '#A56B48',
    hair: '#2C1C1A',
    coat: '#2C5A78',
    lapel: '#D9D2C2',
    long: true,
  }),
  ...presenter({
    at: 14.25,
    skin: '#E2B791',
    shade: '#BD8E68',
    hair: '#6B4A33',
    coat: '#6E3848',
    lapel: '#C9D0CF',
    long: false,
  }),
  { fill: '#4A2F22', points: box(-24, 25, -12, -3.6) },
  { fill: '#7D5236', points: box(-24.6, 25.6, -3.75, -3) },
  { fill: '#5E3C2A', points: box(-24, 25, -4.3, -3.75) },
  {
    fill: '#16191B',
    points: [
      [-5.6, -3],
      [-5.2, -3],
      [-6.6, -0.6],
      [-6.9, -0.7],
    ],
  },
  { fill: '#22272A', points: round(-6.9, -0.5, 0.42, 0.5, 10) },
  {
    fill: '#16191B',
    points: [
      [7.2, -3],
      [7.6, -3],
      [8.8, -0.6],
      [8.5, -0.5],
    ],
  },
  { fill: '#22272A', points: round(8.8, -0.4, 0.42, 0.5, 10) },
  {
    fill: '#E8E2D2',
    points: [
      [-2.6, -3.05],
      [0.4, -3.05],
      [0.1, -2.75],
      [-2.3, -2.75],
    ],
  },
];

const screenMeteor: Shape[] = [
  { fill: '#080C12', points: box(80.5, 99.5, -0.3, 10.2) },
  { fill: '#16244F', points: box(81.1, 98.9, 0.3, 9.6) },
  { fill: '#24406F', points: box(81.1, 98.9, 0.3, 3.2) },
  {
    fill: '#0D1730',
    points: [
      [81.1, 0.3],
      [81.1, 2.2],
      [85, 3.2],
      [90, 1.9],
      [95, 2.8],
      [98.9, 1.7],
      [98.9, 0.3],
    ],
  },
  {
    fill: '#F2EFE4',
    points: [
      [86, 7.9],
      [94.6, 5],
      [94.8, 5.2],
      [86.2, 8.4],
    ],
  },
  { fill: '#9DB6D8', points: round(84, 5.6, 0.14, 0.14, 6) },
  { fill: '#9DB6D8', points: round(92, 8.1, 0.12, 0.12, 6) },
  { fill: '#9DB6D8', points: round(96.5, 6.8, 0.14, 0.14, 6) },
  {
    fill: '#11161A',
    points: [
      [82, -5],
      [82.6, -5],
      [82.6, -0.3],
      [82, -0.3],
    ],
  },
  {
    fill: '#11161A',
    points: [
      [97.4, -5],
      [98, -5],
      [98, -0.3],
      [97.4, -0.3],
    ],
  },
];

const crowd = seeded(77);
const visitors: Shape[] = Array.from({ length: 26 }, (_, index) => {
  const at = 116 + index * 2.05 + (crowd() - 0.5) * 1.4;
  const near = crowd();
  const top = -1.2 - near * 3.2 + (crowd() - 0.5);
  const size = 0.75 + near * 0.75;
  const coat = ['#2A3B4A', '#3B2F45', '#39432F', '#4A3630', '#2D3A3A', '#433C2C'][Math.floor(crowd() * 6)] ?? '#2A3B4A';
  return {
    near,
    shapes: [
      {
        fill: coat,
        points: [
          [at - size * 1.7, -30],
          [at - size * 1.5, top - size * 2],
          [at - size * 0.6, top - size * 1.05],
          [at + size * 0.6, top - size * 1.05],
          [at + size * 1.5, top - size * 2],
          [at + size * 1.7, -30],
        ] as [number, number][],
      },
      {
        fill: ['#B98363', '#D8AE88', '#8A5C42', '#C79B77'][Math.floor(crowd() * 4)] ?? '#B98363',
        points: round(at, top, size * 0.78, size, 14),
      },
      {
        fill: ['#2B211E', '#4B3A2C', '#191A1E', '#6A5236'][Math.floor(crowd() * 4)] ?? '#2B211E',
        points: [...arc(at, top + size * 0.25, size * 0.85, size * 0.85, 0, 180, 10)],
      },
    ],
  };
})
  .sort((a, b) => a.near - b.near)
  .flatMap((item) => item.shapes);

const lawn: Shape[] = [
  { fill: '#17241A', points: box(70, 190, -60, -2.2) },
  { fill: '#1D2C20', points: box(70, 190, -6, -3.4) },
  ...screenMeteor,
  ...lantern(110),
  ...lantern(168),
  ...visitors,
  {
    fill: '#101B13',
    points: [
      ...Array.from({ length: 66 }, (_, at): [number, number] => [62 + at * 2, -7.6 + (at % 2) * 0.5]),
      ...Array.from({ length: 14 }, (_, at): [number, number] => [192 - at * 10, -40]),
    ],
  },
];

/** The dome from inside: ribs, the open slit with the sky in it, the telescope on its pier. */
const rib = (direction: number): Shape => ({
  fill: '#2B3547',
  points: [
    [direction - 1, -8],
    [direction + 1, -8],
    [direction + 0.8, 30],
    [direction + 0.5, 66],
    [direction - 0.5, 66],
    [direction - 0.8, 30],
  ],
});
const dome: Shape[] = [
  { fill: '#1B2434', points: [...box(-200, -58, -50, 66)] },
  { fill: '#222D40', points: [...box(-200, -58, -8, 2)] },
  ...[-190, -172, -154, -136, -91, -73].map(rib),
  {
    fill: '#101A44',
    points: [
      [-120.5, 14],
      [-101.5, 14],
      [-102.5, 34],
      [-104.5, 56],
      [-117.5, 56],
      [-119.5, 34],
    ],
  },
  {
    fill: '#182556',
    points: [
      [-120.5, 14],
      [-101.5, 14],
      [-102, 24],
      [-120, 24],
    ],
  },
  ...[
    [-117, 30, 0.3],
    [-112, 45, 0.36],
    [-106, 27, 0.24],
    [-109, 38, 0.28],
    [-115, 51, 0.24],
    [-105.5, 47, 0.3],
    [-111, 20, 0.24],
    [-118, 41, 0.2],
    [-108, 52, 0.2],
    [-114, 35.5, 0.45],
  ].map(([direction = 0, elevation = 0, size = 0]): Shape => ({
    fill: '#F3EEDC',
    points: round(direction, elevation, size * 0.55, size * 0.55, 8),
  })),
  {
    fill: '#F3EEDC',
    points: [
      [-117.2, 44.6],
      [-109.6, 40.2],
      [-109.5, 40.5],
      [-117, 45.1],
    ],
  },
  {
    fill: '#46536B',
    points: [
      [-121.6, 13],
      [-120.3, 13],
      [-119.4, 34],
      [-117.3, 57],
      [-118.6, 57],
      [-120.8, 34],
    ],
  },
  {
    fill: '#46536B',
    points: [
      [-101.7, 13],
      [-100.4, 13],
      [-101.2, 34],
      [-103.4, 57],
      [-104.7, 57],
      [-102.6, 34],
    ],
  },
  { fill: '#0F151F', points: [...box(-200, -58, -50, -8)] },
  {
    fill: '#3A4353',
    points: [
      [-183, -12],
      [-177, -12],
      [-178, 7],
      [-182, 7],
    ],
  },
  {
    fill: '#4C576A',
    points: [
      [-183.6, 6.4],
      [-176.4, 6.4],
      [-177.4, 9.2],
      [-182.6, 9.2],
    ],
  },
  {
    fill: '#C9CED6',
    points: [
      [-187.4, 6.9],
      [-186.2, 5.6],
      [-172.6, 14.4],
      [-174, 16.8],
    ],
  },
  {
    fill: '#8D95A3',
    points: [
      [-187.4, 6.9],
      [-186.8, 6.2],
      [-173.3, 15.5],
      [-174, 16.8],
    ],
  },
  {
    fill: '#2B3547',
    points: [
      [-174, 16.8],
      [-172.6, 14.4],
      [-171.8, 15],
      [-173.2, 17.4],
    ],
  },
  {
    fill: '#59657A',
    points: [
      [-181.6, 8.2],
      [-179.6, 8.2],
      [-179, 11.4],
      [-181, 11.2],
    ],
  },
  { fill: '#C98B62', points: round(-189, 4.6, 0.62, 0.75, 12) },
  {
    fill: '#3F4A35',
    points: [
      [-191, -4],
      [-190.4, 2.6],
      [-189.6, 3.9],
      [-188.4, 3.9],
      [-187.6, 2.6],
      [-187, -4],
    ],
  },
  { fill: '#57595C', points: [...arc(-189, 4.9, 0.68, 0.7, 0, 180, 8)] },
];

/** Everything that stands in front of the sky, back to front. */
export const SHAPES: readonly Shape[] = [...moon, ...farDome, ...lawn, ...dome, ...courtyard];
