import { inOrder } from '@umbek/core/order';
import type { ShowDocument } from '@umbek/core/show';
import { createContext, type ReactNode, useContext, useEffect, useState, useSyncExternalStore } from 'react';
import { editorName } from '../live/identity';
import { useLiveState } from '../live/LiveContext';
import { laterPlaces } from '../laterPlaces';
import { type DeskState, DeskStore } from './deskStore';
import { type EditState, EditStore } from './editStore';

const Context = createContext<{ readonly edits: EditStore; readonly desk: DeskStore } | null>(null);

let begun: { readonly edits: EditStore; readonly desk: DeskStore } | null = null;

/** Asks for the show, once for this page: called before anything is drawn, so that it comes while the page draws. */
export function openShow(): NonNullable<typeof begun> {
  if (begun === null) {
    begun = {
      edits: new EditStore(editorName, () => laterPlaces.come().then(({ applyEdit }) => applyEdit)),
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
  const { revision, edits } = useLiveState();
  useEffect(() => {
    if (revision === 0) return;
    stores.desk.heard(revision, edits);
    stores.edits.heard(revision, edits);
  }, [revision, edits, stores]);
  return <Context.Provider value={stores}>{children}</Context.Provider>;
}

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

/** The whole show as it is now, for places that program; null until it was loaded. */
export function useShow(): ShowDocument | null {
  const edits = useEdits();
  useEffect(() => edits.wake(), [edits]);
  return useEditState().document;
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
