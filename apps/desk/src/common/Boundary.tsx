import { Component, type ReactNode } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { colour, font } from '../theme/tokens';

/** What fails while it is drawn fails in its own place, in words; the way to the other places and the handle that stops everything stay. */
export class Boundary extends Component<{ readonly children: ReactNode }, { readonly failed: boolean }> {
  override state = { failed: false };

  static getDerivedStateFromError(): { failed: boolean } {
    return { failed: true };
  }

  override render(): ReactNode {
    if (!this.state.failed) return this.props.children;
    return (
      <View style={styles.all} role="alert" testID="boundary">
        <Text style={styles.words}>This part of the page failed. The engine goes on.</Text>
        <Text style={styles.small}>Show it again. If it fails again, reload the page, or go to another place.</Text>
        <Button mode="contained" onPress={() => this.setState({ failed: false })}>
          Show it again
        </Button>
      </View>
    );
  }
}

const styles = StyleSheet.create({
  all: { flex: 1, backgroundColor: colour.ground, padding: 24, gap: 10, alignItems: 'flex-start' },
  words: { fontFamily: font.semibold, fontSize: 18, color: colour.text },
  small: { fontFamily: font.regular, fontSize: 15, color: colour.muted },
});
