import { OLDEST_PRESS_MS } from '@umbek/core/engine';
import type * as api from '@umbek/protocol';
import type { RouteDependencies } from './dependencies';

/** Why a deed comes too late to be done; null when it does not. @param asked `epoch:milliseconds` of the engine's clock */
export function lateness(asked: string, host: ReturnType<RouteDependencies['host']>): api.ErrorReply | null {
  const [epoch, at = NaN] = asked.split(':').map(Number);
  const mend = 'Look at what is on air, then ask again.';
  if (epoch !== host.journal.epoch || !Number.isFinite(at))
    return { code: 'too-old', message: 'The engine was started again meanwhile, so nothing was done.', mend };
  const age = host.clock.now() - at;
  if (age <= OLDEST_PRESS_MS) return null;
  return { code: 'too-old', message: `This came ${Math.round(age / 100) / 10} s late, so nothing was done.`, mend };
}
