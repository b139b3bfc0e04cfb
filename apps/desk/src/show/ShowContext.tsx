import { inOrder } from '@umbek/core/order';
import type { ShowDocument } from '@umbek/core/show';
import type { LiveShow } from '@umbek/protocol';
import { createContext, type ReactNode, useContext, useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import { editorName } from '../live/identity';
import { act } from '../live/deeds';
import { openLive, useLiveState } from '../live/LiveContext';
import { ask } from './ask';
import { laterPlaces } from '../laterPlaces';
import { type DeskState, DeskStore } from './deskStore';
import { type EditState, EditStore } from './editStore';

const Context = createContext<{ readonly edits: EditStore; readonly desk: DeskStore } | null>(null);

let begun: { readonly edits: EditStore; readonly desk: DeskStore } | null = null;

/** Asks for the show, once for this page: called before anything is drawn, so that it comes while the page draws. */
export function openShow(): NonNullable<typeof begun> {
  if (begun === null) {
    begun = {
      edits: new EditStore(
        editorName,
        () => laterPlaces.come().then(({ applyEdit }) => applyEdit),
        ask,
        act,
        () => openLive().getState().rights.includes('program'),
      ),
      desk: new DeskStore(),
    };
    begun.desk.open();
  }
  return begun;
}

/**
 * The show, one for the whole page, brought up to date whenever the engine tells of a newer revision. What is operated is a small part of it; all
 * of it is loaded when a place that programs is opened.
 */
export function ShowProvider({ children }: { readonly children: ReactNode }) {
  const [stores] = useState(openShow);
  const { revision, edits, show } = useLiveState();
  const [followed, setFollowed] = useState<string | null>(null);
  // The first show that is told is followed; of another one the person is told, and follows when they choose to.
  // Whoever opens another one goes along, whichever comes first: the news of it or the answer.
  const [goingAlong, setGoingAlong] = useState(0);
  if (show !== null && show.id !== followed && (followed === null || goingAlong > 0)) setFollowed(show.id);
  const other = show !== null && followed !== null && show.id !== followed ? show : null;
  useEffect(() => {
    if (revision === 0 || other !== null) return;
    stores.desk.heard(revision, edits);
    stores.edits.heard(revision, edits);
  }, [revision, edits, stores, other]);
  const follow = useMemo(
    () => ({
      other,
      follow: () => setFollowed(null),
      goAlong: async (work: () => Promise<void>) => {
        setGoingAlong((now) => now + 1);
        try {
          await work();
        } finally {
          // The news of it may come after its answer.
          setTimeout(() => setGoingAlong((now) => now - 1), NEWS_MS);
        }
      },
    }),
    [other],
  );
  return (
    <Context.Provider value={stores}>
      <Follow.Provider value={follow}>{children}</Follow.Provider>
    </Context.Provider>
  );
}

/** Whatever was opened here is told to this page within this time. */
const NEWS_MS = 2000;

/** Another show than this page shows is open, or null; and how the page goes over to whichever is. */
const Follow = createContext<{
  readonly other: LiveShow | null;
  readonly follow: () => void;
  /** Does what opens another show, and goes along. */
  readonly goAlong: (work: () => Promise<void>) => Promise<void>;
}>({ other: null, follow: () => undefined, goAlong: (work) => work() });
export const useFollow = () => useContext(Follow);

function useStores() {
  const stores = useContext(Context);
  if (!stores) throw new Error('ShowProvider is missing above this component.');
  return stores;
}

/** The show as it is operated, to be loaded anew. */
export const useDeskStore = (): DeskStore => useStores().desk;

export const useEdits = (): EditStore => useStores().edits;

export function useEditState(): EditState {
  const store = useEdits();
  return useSyncExternalStore(store.subscribe, store.getState);
}

/** A part of that state: who reads it is drawn anew when that part changes, not each time an edit goes out and is answered. @param read gives the same value while the part is the same */
export function useEditPart<T>(read: (state: EditState) => T): T {
  const store = useEdits();
  return useSyncExternalStore(store.subscribe, () => read(store.getState()));
}

/** The whole show as it is now, for places that program; null until it was loaded. */
export function useShow(): ShowDocument | null {
  const edits = useEdits();
  useEffect(() => edits.wake(), [edits]);
  return useEditPart(({ document }) => document);
}

/** The show as it is operated, with the buttons of this panel as soon as they are there. @param panel null: the first one */
export function useDeskShow(panel: string | null = null): DeskState {
  const { desk } = useStores();
  const state = useSyncExternalStore(desk.subscribe, desk.getState);
  // The first one is shown where none is chosen, also when it was made just now.
  const wanted = panel ?? (state.document === null ? null : (inOrder(state.document.panels)[0]?.id ?? null));
  useEffect(() => {
    if (wanted !== null) desk.want(wanted);
  }, [desk, wanted]);
  return state;
}
