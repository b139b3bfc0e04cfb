/** Does something once the next frame is drawn: what answers a finger is on the screen before what follows from it is worked out. At once where nothing is drawn. */
export function afterFrame(work: () => void): void {
  if (typeof document === 'undefined' || document.visibilityState === 'hidden') work();
  else requestAnimationFrame(() => setTimeout(work, 0));
}
