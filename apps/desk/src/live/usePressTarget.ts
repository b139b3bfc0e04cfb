import type { View } from 'react-native';
import { feel } from './haptics';
import { useLive } from './LiveContext';
import type { LiveStore } from './liveStore';
import { useHeld } from './useHeld';

/**
 * Makes a view press a button or a command while it is held.
 * @param begin starts the press and gives its id
 * @param onHeld told when a finger or a key is on it, and when it is let go
 */
export function usePressTarget(
  begin: (live: LiveStore) => string,
  onHeld?: (held: boolean) => void,
): React.RefObject<View | null> {
  const live = useLive();
  return useHeld(() => {
    const pressId = begin(live);
    feel('touched');
    onHeld?.(true);
    return () => {
      live.up(pressId);
      onHeld?.(false);
    };
  });
}
