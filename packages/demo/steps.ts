import type { Argument, Step } from '@umbek/core/show';

/** Steps of the demo, as the Bench makes them. */
export const command = (id: string, device: string, name: string, params: Record<string, Argument> = {}): Step => ({
  id,
  onFail: 'stop',
  kind: 'command',
  device,
  command: name,
  params,
});

export const arrived = (id: string, camera: string, position: string): Step => ({
  id,
  onFail: 'stop',
  kind: 'wait',
  until: `${camera}.arrived == "${position}"`,
  timeoutMs: 6000,
});
