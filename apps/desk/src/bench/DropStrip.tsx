import { useDroppable } from '@dnd-kit/core';
import type { ComponentProps } from 'react';
import { StyleSheet, View } from 'react-native';
import { StripFrame } from '../caps/StripFrame';
import { colour } from '../theme/tokens';
import type { StripData } from './useMoving';

/** A strip that caps can be dropped on: where no cap is, at its end. */
export function DropStrip({
  over,
  ...frame
}: ComponentProps<typeof StripFrame> & {
  /** What is dragged would stand at its end. */
  readonly over: boolean;
}) {
  const data: StripData = { kind: 'strip', stripId: frame.strip.id };
  const { setNodeRef } = useDroppable({ id: `strip/${frame.strip.id}`, data });
  return (
    <View ref={setNodeRef as never} style={over && styles.over}>
      <StripFrame {...frame} />
    </View>
  );
}

const styles = StyleSheet.create({ over: { borderRadius: 6, boxShadow: `5px 0 0 0 ${colour.warning}` } });
