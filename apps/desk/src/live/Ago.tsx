import { useEffect, useRef } from 'react';
import { type StyleProp, Text, type TextStyle } from 'react-native';

const EVERY_MS = 1000;

/** @param ms milliseconds that have gone by */
export function agoWords(ms: number): string {
  const seconds = Math.max(0, Math.round(ms / 1000));
  if (seconds < 100) return `${seconds} s`;
  const minutes = Math.floor(seconds / 60);
  return minutes < 100 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

/** How long ago something was, counting up: `12 s`. The text is written straight into the page, as that of TimeLeft. @param since the page's own clock (`performance.now()`) */
export function Ago({ since, style }: { readonly since: number; readonly style?: StyleProp<TextStyle> }) {
  const ref = useRef<Text | null>(null);
  useEffect(() => {
    const timer = setInterval(() => {
      const node = (ref.current as unknown as HTMLElement | null)?.firstChild;
      const words = agoWords(performance.now() - since);
      if (node && node.nodeValue !== words) node.nodeValue = words;
    }, EVERY_MS);
    return () => clearInterval(timer);
  }, [since]);
  return (
    <Text key={since} ref={ref} style={style}>
      {agoWords(performance.now() - since)}
    </Text>
  );
}
