/** Listens to several events of an element or window. @param first before what stands inside it hears them @returns what ends all of it */
export function listen(
  target: EventTarget,
  handlers: Readonly<Record<string, (event: never) => void>>,
  first = false,
): () => void {
  const ending = new AbortController();
  for (const [type, handler] of Object.entries(handlers))
    target.addEventListener(type, handler as EventListener, { signal: ending.signal, capture: first });
  return () => ending.abort();
}
