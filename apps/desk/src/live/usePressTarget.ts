import type { View } from 'react-native';
import { useLive } from './LiveContext';
import type { LiveStore } from './liveStore';
import { useHeld } from './useHeld';

/** Makes a view press a button or a command while it is held. @param begin starts the press and gives its id */
export function usePressTarget(begin: (live: LiveStore) => string): React.RefObject<View | null> {
  const live = useLive();
  return useHeld(() => {
    const pressId = begin(live);
    return () => live.up(pressId);
  });
}
