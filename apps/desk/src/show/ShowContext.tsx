import type { ShowDocument } from '@umbek/core/show';
import { createContext, type ReactNode, useContext, useEffect, useState, useSyncExternalStore } from 'react';
import { editorName } from '../live/identity';
import { useLiveState } from '../live/LiveContext';
import { type EditState, EditStore } from './editStore';

const Context = createContext<EditStore | null>(null);

/** The show, one for the whole page, brought up to date whenever the engine tells of a newer revision. */
export function ShowProvider({ children }: { readonly children: ReactNode }) {
  const [store] = useState(() => new EditStore(editorName));
  const { revision, edits } = useLiveState();
  useEffect(() => {
    if (revision > 0) store.heard(revision, edits);
  }, [revision, edits, store]);
  return <Context.Provider value={store}>{children}</Context.Provider>;
}

export function useEdits(): EditStore {
  const store = useContext(Context);
  if (!store) throw new Error('ShowProvider is missing above this component.');
  return store;
}

export function useEditState(): EditState {
  const store = useEdits();
  return useSyncExternalStore(store.subscribe, store.getState);
}

/** The show as it is now; null until it was loaded. */
export const useShow = (): ShowDocument | null => useEditState().document;
