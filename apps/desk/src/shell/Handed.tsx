import { useEffect, useRef } from 'react';
import { handOver } from '../live/handOver';
import { editorName, readIdentity, writeIdentity } from '../live/identity';
import { useHanded, useLive } from '../live/LiveContext';
import { useEdits } from '../show/ShowContext';

/** Somebody at another station handed this page to a person: from now on it is theirs, and so are the edits made here. */
export function Handed() {
  const handed = useHanded();
  const live = useLive();
  const edits = useEdits();
  const done = useRef(0);
  useEffect(() => {
    if (handed === null || handed.at === done.current) return;
    done.current = handed.at;
    const from = editorName();
    const to = handed.person;
    if (from === to) return;
    // Asked before the page says who it is now: that breaks contact for a moment.
    void handOver(from, to).then(({ done: well, words }) => {
      writeIdentity({ ...readIdentity(), person: to });
      live.introduce();
      edits.tell(words, !well);
    });
  }, [handed, live, edits]);
  return null;
}
