import type { LiveFace, LivePoint } from '@umbek/protocol';
import {
  createContext,
  type ReactNode,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useState,
  useSyncExternalStore,
} from 'react';
import { followAbout } from './about';
import { followContact } from './deeds';
import { LiveStore } from './liveStore';
import type { LastKnown } from './pointBook';
import type { PressState } from './pressBook';
import { nameGiven, readIdentity } from './identity';

export const LiveStoreContext = createContext<LiveStore | null>(null);

const LOOK_MS = 3000;
let begun: LiveStore | null = null;

/**
 * Opens the live connection of this page, once and for as long as the page lives. Called before anything is drawn: a drawing that is thrown away
 * (React begins anew when something changed under it; the router mounts the page anew at some steps back) must neither open another one nor
 * close this one, and the engine's answer comes while the page draws.
 */
export function openLive(): LiveStore {
  if (begun === null) {
    const { protocol, host } = window.location;
    begun = new LiveStore(
      `${protocol === 'https:' ? 'wss' : 'ws'}://${host}/api/live`,
      readIdentity,
      nameGiven,
      goJoin,
      protocol === 'https:' ? lookWhetherIn : undefined,
    );
    begun.open(true);
  }
  return begun;
}

const goJoin = (): void => window.location.replace('/join');

/** At the engine's own machine nobody is sent away. */
function lookWhetherIn(): void {
  fetch('/api/me', { signal: AbortSignal.timeout(LOOK_MS) })
    .then(async (response) => {
      if (response.status === 401 && ((await response.json()) as { code?: string }).code === 'not-joined') goJoin();
    })
    .catch(() => undefined);
}

/** What this station may do. */
export const useRights = (): ReturnType<LiveStore['getState']>['rights'] =>
  useTopic('state', (store) => store.getState().rights);

/** Who works at this page; empty: nobody gave a name. */
export const usePerson = (): string => useTopic('state', (store) => store.getState().person);

/** Whether that is somebody of the crew, who brought rights along. */
export const useSignedIn = (): boolean => useTopic('state', (store) => store.getState().signedIn);

/** Somebody handed this page to another person, who has to take it over. */
export const useHanded = (): ReturnType<LiveStore['getState']>['handed'] =>
  useTopic('state', (store) => store.getState().handed);

/** Somebody looks for this station. */
export const useFlash = (): ReturnType<LiveStore['getState']>['flash'] =>
  useTopic('state', (store) => store.getState().flash);

/** By which link group the engine counts this page; null until it was told. */
export const useLinkGroup = (): string | null => useTopic('state', (store) => store.getState().linkGroup);

/** Whether it was let in from the network, under a name that others gave it. */
export const useJoined = (): boolean => useTopic('state', (store) => store.getState().joined);

/** One live connection for the whole page. */
export function LiveProvider({ children }: { readonly children: ReactNode }) {
  const [store] = useState(openLive);
  useEffect(() => {
    // Runs after those of the components inside, which have said by now what they show.
    store.drawn();
    followContact(() => store.moment());
    const endAbout = followAbout(store);
    const release = (): void => store.releaseAll();
    const hidden = (): void => {
      if (document.hidden) release();
      else store.woke();
    };
    window.addEventListener('pagehide', release);
    window.addEventListener('blur', release);
    const woke = (): void => store.woke();
    window.addEventListener('pageshow', woke);
    window.addEventListener('online', woke);
    document.addEventListener('visibilitychange', hidden);
    return () => {
      endAbout();
      window.removeEventListener('pagehide', release);
      window.removeEventListener('blur', release);
      window.removeEventListener('pageshow', woke);
      window.removeEventListener('online', woke);
      document.removeEventListener('visibilitychange', hidden);
    };
  }, [store]);
  return <LiveStoreContext.Provider value={store}>{children}</LiveStoreContext.Provider>;
}

export function useLive(): LiveStore {
  const store = useContext(LiveStoreContext);
  if (!store) throw new Error('LiveProvider is missing above this component.');
  return store;
}

function useTopic<T>(topic: string, read: (store: LiveStore) => T): T {
  const store = useLive();
  const subscribe = useCallback((listener: () => void) => store.subscribe(topic, listener), [store, topic]);
  return useSyncExternalStore(subscribe, () => read(store));
}

export const useLiveState = (): ReturnType<LiveStore['getState']> => useTopic('state', (store) => store.getState());
/** Who else is about to change what. */
export const useOthersNow = (): ReturnType<LiveStore['getState']>['others'] =>
  useTopic('state', (store) => store.getState().others);
export const usePoint = (key: string): LivePoint | undefined => useTopic(`point:${key}`, (store) => store.point(key));
/** What was known last of a point that is unknown now: to be shown as such, never to go by. */
export const useLastKnown = (key: string): LastKnown | undefined =>
  useTopic(`point:${key}`, (store) => store.lastKnown(key));
/** Whether the engine answers. */
export const useConnection = (): ReturnType<LiveStore['getState']>['connection'] =>
  useTopic('connection', (store) => store.getState().connection);
/** Several points at once, in the order of their keys. The list of keys may change. */
export function usePoints(keys: readonly string[]): readonly (LivePoint | undefined)[] {
  const store = useLive();
  const list = keys.join(' ');
  const subscribe = useCallback(
    (listener: () => void) => {
      const ends = list
        .split(' ')
        .filter(Boolean)
        .map((key) => store.subscribe(`point:${key}`, listener));
      return () => ends.forEach((end) => end());
    },
    [store, list],
  );
  // A text that changes when one of them does: what is told apart must be a plain value.
  const current = useSyncExternalStore(subscribe, () =>
    JSON.stringify(
      list
        .split(' ')
        .filter(Boolean)
        .map((key) => store.point(key) ?? null),
    ),
  );
  return useMemo(() => (JSON.parse(current) as (LivePoint | null)[]).map((value) => value ?? undefined), [current]);
}

export const useFace = (id: string): LiveFace | undefined => useTopic(`face:${id}`, (store) => store.face(id));
export const usePressState = (id: string): PressState | undefined =>
  useTopic(`press:${id}`, (store) => store.pressState(id));
/** Everything of these scopes is shown here, such as all points of a device that are read when something is saved. */
export function useScopes(scopes: readonly string[]): void {
  const store = useLive();
  const list = scopes.join(' ');
  useEffect(() => {
    const ends = list
      .split(' ')
      .filter(Boolean)
      .map((scope) => store.subscribe(`point:${scope}.`, () => undefined));
    return () => ends.forEach((end) => end());
  }, [store, list]);
}

/** The faces of a strip's buttons are shown here; of none where it is left out. */
export function useStripShown(stripId: string | undefined): void {
  const store = useLive();
  useEffect(() => (stripId === undefined ? undefined : store.showStrip(stripId)), [store, stripId]);
}
