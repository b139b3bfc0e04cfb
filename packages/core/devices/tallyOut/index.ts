/** Under-monitor displays: told which source is on program and preview, and they never answer. */
import { z } from 'zod';
import { type Behaviour, modelOf, unknownCommand } from '../behaviour';
import { defineKind } from '../kind';

const Settings = z.strictObject({
  replyDelayMs: z.number().min(0).max(1000).default(0),
  /** Screen number in every packet; 65535 means all. */
  screen: z.number().int().min(0).max(65_535).default(0),
  brightness: z.number().int().min(0).max(3).default(3),
});
type Settings = z.infer<typeof Settings>;

const behaviour: Behaviour<null, Settings> = {
  start: () => null,
  advance: () => null,
  act: (_state, { command }) => unknownCommand('The displays', command),
  points: () => ({}),
  wakeAt: () => null,
};

export const tallyOut = defineKind({
  key: 'tallyOut',
  words: 'Tally displays',
  protocol: 'TSL UMD 5.0',
  wire: 'tsl',
  settings: Settings,
  commands: {},
  points: {},
  model: modelOf(behaviour),
});
