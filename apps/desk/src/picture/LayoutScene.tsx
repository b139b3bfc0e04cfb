import { BOXES, switcherLayoutOf } from '@umbek/core/devices/switcherNumbers';
import type { ShowDocument, Source } from '@umbek/core/show';
import { memo, type ReactElement } from 'react';
import { StyleSheet, View } from 'react-native';
import { usePoint } from '../live/LiveContext';
import { colour } from '../theme/tokens';

interface LayoutSceneProps {
  readonly switcher: string;
  readonly layout: number;
  readonly document: ShowDocument;
  /** How a source that fills a box, or lies behind them, is drawn. */
  readonly draw: (source: Source) => ReactElement;
}

/** Number of the layout engine whose picture a source is; null when it is none. */
export function layoutOf(source: Source, document: ShowDocument): number | null {
  const switcher = document.devices.find((device) => device.kind === 'switcher');
  return switcher === undefined || source.input === null ? null : switcherLayoutOf(source.input, switcher.settings);
}

/** A layout engine's picture as the switcher tells it: background, and the boxes that are shown with their occupants, crops and borders. */
export const LayoutScene = memo(function LayoutScene({ switcher, layout, document, draw }: LayoutSceneProps) {
  const background = useOccupant(`${switcher}.layout${layout}Background`, document);
  return (
    <View style={styles.whole}>
      {background ? <View style={StyleSheet.absoluteFill}>{draw(background)}</View> : null}
      {Array.from({ length: BOXES }, (_, index) => (
        <Box key={index} at={`${switcher}.layout${layout}Box${index + 1}`} document={document} draw={draw} />
      ))}
    </View>
  );
});

function useOccupant(point: string, document: ShowDocument): Source | undefined {
  const input = usePoint(point);
  return document.sources.find((source) => source.input === input);
}

const numbers = (text: unknown): number[] =>
  String(text ?? '')
    .split(' ')
    .map(Number);
const percent = (share: number): `${number}%` => `${Math.round(share * 10_000) / 100}%`;

function Box({
  at,
  document,
  draw,
}: {
  readonly at: string;
  readonly document: ShowDocument;
  readonly draw: LayoutSceneProps['draw'];
}) {
  const shown = usePoint(`${at}On`) === true;
  const occupant = useOccupant(`${at}Occupant`, document);
  const [x = 0, y = 0, width = 0, height = 0] = numbers(usePoint(`${at}Place`));
  const [left = 0, top = 0, right = 0, bottom = 0] = numbers(usePoint(`${at}Crop`));
  const order = Number(usePoint(`${at}Order`) ?? 1);
  const border = Number(usePoint(`${at}Border`) ?? 0);
  if (!shown || !(width > 0) || !(height > 0)) return null;
  const [across, down] = [1 - left - right, 1 - top - bottom];
  return (
    <View
      testID={`box-${at}`}
      style={[
        styles.box,
        {
          left: percent(x),
          top: percent(y),
          width: percent(width),
          height: percent(height),
          zIndex: order,
          borderWidth: border > 0 ? Math.max(1, Math.round(border * 400)) : 0,
        },
      ]}
    >
      {occupant ? (
        <View
          style={[
            styles.source,
            {
              left: percent(-left / across),
              top: percent(-top / down),
              width: percent(1 / across),
              height: percent(1 / down),
            },
          ]}
        >
          {draw(occupant)}
        </View>
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  whole: { flex: 1, backgroundColor: '#0B1415', overflow: 'hidden' },
  box: { position: 'absolute', overflow: 'hidden', backgroundColor: '#000000', borderColor: colour.cap },
  source: { position: 'absolute' },
});
