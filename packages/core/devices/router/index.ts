/** The router: any source to any destination, both counted from 1, and destinations that are protected against a change. */
import { z } from 'zod';
import { type Behaviour, modelOf, unknownCommand } from '../behaviour';
import { puts } from '../effects';
import { defineKind, type PointDefinition } from '../kind';

/** As many destinations and sources as the wire can name here. */
export const ROUTER_MOST = 1024;

export const RouterSettings = z.strictObject({
  replyDelayMs: z.number().min(0).max(1000).default(4),
  destinations: z.number().int().min(1).max(ROUTER_MOST).default(32),
  sources: z.number().int().min(1).max(ROUTER_MOST).default(32),
  /** What is cabled to each, the first at index 0; empty where nobody has said. */
  sourceLabels: z.array(z.string().max(60)).max(ROUTER_MOST).default([]),
  destinationLabels: z.array(z.string().max(60)).max(ROUTER_MOST).default([]),
});
export type RouterSettings = z.infer<typeof RouterSettings>;

interface State {
  /** Source at each destination, the first at index 0. */
  readonly crosspoints: readonly number[];
  readonly protected: ReadonlySet<number>;
}

/** Keys of a destination's two points. */
export const crosspointKey = (destination: number): string => `out${destination}`;
export const protectKey = (destination: number): string => `out${destination}Protected`;

const behaviour: Behaviour<State, RouterSettings> = {
  start: (settings, _now, from) => ({
    crosspoints: Array.from({ length: settings.destinations }, (_, index) =>
      Number(from[crosspointKey(index + 1)] ?? Math.min(index + 1, settings.sources)),
    ),
    protected: new Set(
      Array.from({ length: settings.destinations }, (_, index) => index + 1).filter(
        (destination) => from[protectKey(destination)] === true,
      ),
    ),
  }),
  advance: (state) => state,
  act(state, { command, params }, _now, settings) {
    const [destination, source] = [Number(params.destination), Number(params.source)];
    if (destination < 1 || destination > settings.destinations) return `There is no destination ${destination}.`;
    switch (command) {
      case 'connect':
        if (source < 1 || source > settings.sources) return `There is no source ${source}.`;
        if (state.protected.has(destination)) return `Destination ${destination} is protected.`;
        return {
          ...state,
          crosspoints: state.crosspoints.map((crosspoint, index) => (index === destination - 1 ? source : crosspoint)),
        };
      case 'protect': {
        const next = new Set(state.protected);
        if (params.on === true) next.add(destination);
        else next.delete(destination);
        return { ...state, protected: next };
      }
      default:
        return unknownCommand('The router', command);
    }
  },
  points: (state) => {
    const points: Record<string, number | boolean> = {};
    state.crosspoints.forEach((source, index) => {
      points[crosspointKey(index + 1)] = source;
      points[protectKey(index + 1)] = state.protected.has(index + 1);
    });
    return points;
  },
  wakeAt: () => null,
};

const Destination = z.number().int().min(1).max(ROUTER_MOST).default(1).meta({ title: 'Destination' });

export const router = defineKind({
  key: 'router',
  words: 'Router',
  protocol: 'SW-P-08',
  wire: 'swp08',
  settings: RouterSettings,
  commands: {
    connect: {
      words: 'Connect a source to a destination',
      phrase: 'Route source {source} to destination {destination}',
      params: z.strictObject({
        destination: Destination,
        source: z.number().int().min(1).max(ROUTER_MOST).default(1).meta({ title: 'Source of the router' }),
      }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('connect', 'out{destination}', 'source'),
    },
    protect: {
      words: 'Protect a destination against changes',
      phrase: 'Protect destination {destination}: {on}',
      phraseOff: 'Unprotect destination {destination}',
      params: z.strictObject({ destination: Destination, on: z.boolean().default(true).meta({ title: 'On' }) }),
      seenOnAir: false,
      repeatable: true,
      effect: puts('protect', 'out{destination}Protected', 'on'),
    },
  },
  points: {},
  pointsFor: (settings) => {
    const { destinations, destinationLabels } = RouterSettings.parse(settings);
    const named = (destination: number): string =>
      destinationLabels[destination - 1]
        ? `${destination}, ${destinationLabels[destination - 1] ?? ''}`
        : String(destination);
    return Object.fromEntries(
      Array.from({ length: destinations }, (_, index) => index + 1).flatMap(
        (destination): [string, PointDefinition][] => [
          [crosspointKey(destination), { words: `Source at destination ${named(destination)}`, type: 'number' }],
          [protectKey(destination), { words: `Destination ${named(destination)} is protected`, type: 'switch' }],
        ],
      ),
    );
  },
  model: modelOf(behaviour),
});
