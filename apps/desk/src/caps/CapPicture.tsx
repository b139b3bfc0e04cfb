import type { ShowDocument } from '@umbek/core/show';
import { StyleSheet, View } from 'react-native';
import { StillScene, viewOf } from '../picture/Scene';
import { cameraPlace, SourcePicture } from '../picture/SourcePicture';
import { colour } from '../theme/tokens';

/** What a cap shows: a source as it is now, or a position as it is stored. Nothing where it is gone. */
export function CapPicture({ picture, document }: { readonly picture: string; readonly document: ShowDocument }) {
  const [kind, key] = picture.split(':');
  if (kind === 'source') {
    const source = document.sources.find((candidate) => candidate.key === key);
    return source === undefined ? null : (
      <View style={styles.picture}>
        <SourcePicture source={source} document={document} />
      </View>
    );
  }
  const position = document.positions.find((candidate) => candidate.key === key);
  const camera = cameraPlace(document, position?.camera ?? null);
  if (position === undefined || camera === null) return null;
  return (
    <View style={styles.picture} aria-hidden>
      <StillScene {...viewOf(position.pan, position.tilt, position.zoom, camera)} />
    </View>
  );
}

const styles = StyleSheet.create({
  picture: { height: 50, overflow: 'hidden', backgroundColor: colour.ground },
});
