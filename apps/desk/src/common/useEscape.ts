import { useEffect, useRef } from 'react';

/** Closes at Escape while something is open, wherever in it the focus is: fields of Paper keep the key to themselves, so it is heard before them. */
export function useEscape(open: boolean, onClose: (() => void) | undefined): void {
  const close = useRef(onClose);
  close.current = onClose;
  useEffect(() => {
    if (!open) return undefined;
    const keyDown = (event: KeyboardEvent): void => {
      if (event.key !== 'Escape' || !close.current) return;
      event.stopPropagation();
      close.current();
    };
    window.addEventListener('keydown', keyDown, true);
    return () => window.removeEventListener('keydown', keyDown, true);
  }, [open]);
}
