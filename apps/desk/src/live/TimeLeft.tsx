import { useEffect, useRef } from 'react';
import { type StyleProp, Text, type TextStyle } from 'react-native';

const EVERY_MS = 100;
/** Later than rehearsed by less than this is not worth words. */
const ON_TIME_MS = 150;

interface TimeLeftProps {
  /** Milliseconds that the engine said were left. */
  readonly leftMs: number;
  readonly style?: StyleProp<TextStyle>;
}

/**
 * Time left, counted down from what the engine said: `2.4 s`, then `over by 0.3 s`. The text is written straight into the page: drawing a
 * whole cap ten times a second would cost the moving pictures their frames.
 */
export function TimeLeft({ leftMs, style }: TimeLeftProps) {
  const ref = useRef<Text | null>(null);
  useEffect(() => {
    const began = performance.now();
    const timer = setInterval(() => {
      // On the web a Text is its DOM element, holding one text node.
      const node = (ref.current as unknown as HTMLElement | null)?.firstChild;
      const words = timeLeftWords(leftMs - (performance.now() - began));
      if (node && node.nodeValue !== words) node.nodeValue = words;
    }, EVERY_MS);
    return () => clearInterval(timer);
  }, [leftMs]);
  return (
    <Text key={leftMs} ref={ref} numberOfLines={1} style={style}>
      {timeLeftWords(leftMs)}
    </Text>
  );
}

/** @param leftMs milliseconds left; below zero when it takes longer than rehearsed */
export function timeLeftWords(leftMs: number): string {
  if (leftMs < -ON_TIME_MS) return `over by ${(-leftMs / 1000).toFixed(1)} s`;
  return `${(Math.max(0, leftMs) / 1000).toFixed(1)} s`;
}
