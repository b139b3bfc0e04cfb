import { type ReactNode, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Confirm } from './Confirm';
import { Heading } from './fields';

interface RemovalProps {
  /** What goes, as its button says it: "strip", or a name. */
  readonly what: string;
  /** What goes with it, or where it is used. */
  readonly words: string;
  readonly children?: ReactNode;
  /** It cannot go as things stand. */
  readonly blocked?: boolean;
  readonly label?: string;
  readonly onRemove: () => void;
  /** Where the question was asked for already: what keeping it does. */
  readonly onKeep?: () => void;
}

/** Takes a thing away after it was told what that means. Undo brings it back. */
export function Removal({ what, words, children, blocked = false, label = 'Remove', onRemove, onKeep }: RemovalProps) {
  const [asked, setAsked] = useState(onKeep !== undefined);
  return (
    <View style={styles.all}>
      <Heading words={label} />
      {asked ? (
        <Confirm
          words={words}
          keep="Keep it"
          go="Remove it"
          onKeep={onKeep ?? (() => setAsked(false))}
          onGo={onRemove}
          disabled={blocked}
        >
          {children}
        </Confirm>
      ) : (
        <Button mode="outlined" icon="delete" style={styles.left} onPress={() => setAsked(true)}>
          {`Remove ${what}`}
        </Button>
      )}
    </View>
  );
}

const styles = StyleSheet.create({ all: { gap: 4 }, left: { alignSelf: 'flex-start' } });
