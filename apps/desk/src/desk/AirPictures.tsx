import type { ShowDocument, Source } from '@umbek/core/show';
import { memo, type ReactNode, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Ago } from '../live/Ago';
import { useConnection, useLastKnown, usePoint } from '../live/LiveContext';
import { CaptionLayer } from '../picture/CaptionLayer';
import { layoutOf } from '../picture/LayoutScene';
import { SourcePicture } from '../picture/SourcePicture';
import { TakeOnce } from './TakeOnce';
import { colour, font } from '../theme/tokens';

/** What is on program and on preview: in picture, by name, and with the captions that are up. */
export const AirPictures = memo(function AirPictures({
  document,
  drawn,
  beside,
}: {
  readonly document: ShowDocument;
  /** False in the page's first drawing: the caps come first, their pictures a moment later. */
  readonly drawn: boolean;
  /** On a wide screen: what stands beside the next picture. */ readonly beside?: ReactNode;
}) {
  const stacked = beside !== undefined;
  const switcher = document.devices.find((device) => device.kind === 'switcher')?.key ?? 'switcher';
  const sourceOn = (input: unknown) => document.sources.find((source) => source.input === input);
  const away = useConnection() === 'lost';
  const programInput = usePoint(`${switcher}.program`);
  const previewInput = usePoint(`${switcher}.preview`);
  // What a silent switcher said last stays in sight, greyed and with its age; nothing but these pictures goes by it.
  const programLast = useLastKnown(`${switcher}.program`);
  const previewLast = useLastKnown(`${switcher}.preview`);
  const old = away || programInput === undefined ? programLast : undefined;
  const oldNext = away || previewInput === undefined ? previewLast : undefined;
  const program = sourceOn(programInput ?? old?.value);
  const preview = sourceOn(previewInput ?? oldNext?.value);
  const mixing = usePoint(`${switcher}.mixing`) === true;
  const mix = Number(usePoint(`${switcher}.mixPosition`) ?? 0);
  const [transition = 'mix', edge] = String(usePoint(`${switcher}.transition`) ?? 'mix').split(' ');
  const black = usePoint(`${switcher}.black`) === true;
  const blackLevel = Number(usePoint(`${switcher}.blackLevel`) ?? 0);
  const captions = document.devices.find((device) => device.kind === 'captions')?.key ?? 'captions';
  const captionUp = usePoint(`${captions}.nameUp`);
  const name = String(usePoint(`${captions}.nameText`) ?? '');
  const [width, setWidth] = useState(230);
  return (
    <View style={stacked ? styles.stacked : styles.pair}>
      <View
        style={stacked ? null : styles.air}
        testID="on-air"
        role="region"
        accessibilityLabel={`On air: ${old === undefined ? (program?.name ?? 'not known') : `not known, last ${program?.name ?? 'not known'}`}${black ? ', faded to black' : ''}${captionUp === true ? `, caption ${name}` : ''}`}
      >
        <View style={styles.frame} onLayout={(event) => setWidth(event.nativeEvent.layout.width)}>
          {program ? (
            drawn && <SourcePicture source={program} document={document} />
          ) : (
            <Unknown
              words={programInput === undefined ? 'no switcher answers' : `input ${String(programInput)} has no source`}
            />
          )}
          {mixing && preview ? (
            <View style={[styles.over, edge === undefined ? { opacity: mix } : wiped(edge, mix)]}>
              <SourcePicture source={preview} document={document} />
            </View>
          ) : null}
          <CaptionLayer captions={captions} switcher={switcher} scale={Math.max(0.62, width / 330)} />
          {blackLevel > 0 ? <View testID="black" style={[styles.over, styles.black, { opacity: blackLevel }]} /> : null}
          {black ? <Text style={styles.blackWords}>faded to black</Text> : null}
          {old !== undefined ? (
            <Old since={old.since} />
          ) : programInput === undefined ? null : (
            <>
              <View style={styles.airBar} />
              <Text style={[styles.tag, styles.airTag]}>ON AIR</Text>
            </>
          )}
        </View>
        <View style={styles.line}>
          <Text numberOfLines={1} style={styles.source}>
            {program?.name ?? 'not known'}
          </Text>
          {mixing ? (
            <Text style={styles.mix}>
              {transition} {Math.round(mix * 100)} %
            </Text>
          ) : black || blackLevel > 0 ? (
            <Text style={styles.mix}>{black ? 'black' : `${Math.round(blackLevel * 100)} % black`}</Text>
          ) : program ? (
            <Place source={program} document={document} />
          ) : null}
        </View>
      </View>
      <View style={stacked ? styles.row : styles.next}>
        <View
          style={stacked ? styles.nextStacked : null}
          testID="on-preview"
          role="region"
          accessibilityLabel={`Next: ${oldNext === undefined ? (preview?.name ?? 'not known') : `not known, last ${preview?.name ?? 'not known'}`}`}
        >
          <View style={styles.frame}>
            {preview ? drawn && <SourcePicture source={preview} document={document} /> : <Unknown words="not known" />}
            {oldNext !== undefined ? (
              <Old since={oldNext.since} />
            ) : previewInput === undefined ? null : (
              <>
                <View style={styles.nextBar} />
                <Text style={[styles.tag, styles.nextTag]}>NEXT</Text>
              </>
            )}
          </View>
          <View style={stacked ? styles.line : styles.under}>
            <Text numberOfLines={1} style={styles.sourceNext}>
              {preview?.name ?? 'not known'}
            </Text>
            {preview ? <Place source={preview} document={document} /> : null}
          </View>
          <TakeOnce document={document} />
        </View>
        {beside}
      </View>
    </View>
  );
});

/** What a wipe shows of the next picture: its edge travels right, left, down or up. On the web; elsewhere the picture stands over the other at once. */
function wiped(edge: string, share: number): object {
  const rest = `${Math.round((1 - share) * 1000) / 10}%`;
  const inset =
    edge === 'right'
      ? `0 ${rest} 0 0`
      : edge === 'left'
        ? `0 0 0 ${rest}`
        : edge === 'down'
          ? `0 0 ${rest} 0`
          : `${rest} 0 0 0`;
  return { clipPath: `inset(${inset})` };
}

/** Over a picture of what was: it is not known to be so any more. */
const Old = ({ since }: { readonly since: number }) => (
  <View style={[styles.over, styles.old]} testID="last-known">
    <Text style={styles.oldWords}>
      {'last known '}
      <Ago since={since} />
      {' ago'}
    </Text>
  </View>
);

const Unknown = ({ words }: { readonly words: string }) => (
  <View style={styles.unknown}>
    <Text style={styles.unknownText}>{words}</Text>
  </View>
);

/** Where a camera stands: its position's name, or that it is moving. */
function Place({ source, document }: { readonly source: Source; readonly document: ShowDocument }) {
  const { camera } = source;
  const arrived = usePoint(`${camera ?? 'none'}.arrived`);
  const travelling = usePoint(`${camera ?? 'none'}.travelling`);
  const last = useLastKnown(`${camera ?? 'none'}.arrived`);
  const position = (key: unknown): string =>
    document.positions.find((candidate) => candidate.key === key)?.name ?? 'no stored position';
  if (camera === null)
    return (
      <Text numberOfLines={1} style={styles.place}>
        {layoutOf(source, document) === null ? 'fixed picture' : 'boxes'}
      </Text>
    );
  if (travelling === true) return <Text style={[styles.place, styles.moving]}>moving</Text>;
  if (travelling === undefined)
    return (
      <Text numberOfLines={1} style={[styles.place, styles.moving]}>
        {last === undefined ? 'place not known' : `last ${position(last.value)}, `}
        {last === undefined ? null : <Ago since={last.since} />}
        {last === undefined ? '' : ' ago'}
      </Text>
    );
  return (
    <Text numberOfLines={1} style={styles.place}>
      {position(arrived)}
    </Text>
  );
}

const styles = StyleSheet.create({
  pair: { flexDirection: 'row', gap: 8 },
  stacked: { gap: 10 },
  air: { flex: 2 },
  next: { flex: 1 },
  row: { flexDirection: 'row', gap: 12 },
  nextStacked: { width: '58%' },
  frame: { width: '100%', aspectRatio: 16 / 9, backgroundColor: '#000', borderRadius: 4, overflow: 'hidden' },
  over: { position: 'absolute', top: 0, left: 0, right: 0, bottom: 0 },
  black: { backgroundColor: '#000' },
  blackWords: {
    position: 'absolute',
    top: 0,
    bottom: 0,
    left: 0,
    right: 0,
    textAlign: 'center',
    textAlignVertical: 'center',
    paddingTop: '22%',
    fontFamily: font.semibold,
    fontSize: 16,
    color: colour.muted,
  },
  airBar: {
    position: 'absolute',
    top: 0,
    left: 0,
    right: 0,
    height: 6,
    backgroundColor: colour.onAir,
    boxShadow: `0 1px 8px ${colour.onAir}`,
  },
  nextBar: {
    position: 'absolute',
    top: 0,
    left: '25%',
    right: '25%',
    height: 6,
    backgroundColor: colour.onPreview,
    boxShadow: `0 1px 7px ${colour.onPreview}`,
  },
  old: { backgroundColor: 'rgba(60,70,70,0.78)', alignItems: 'center', justifyContent: 'flex-end', padding: 6 },
  oldWords: { fontFamily: font.semibold, fontSize: 14, color: colour.text, textAlign: 'center' },
  tag: {
    position: 'absolute',
    top: 9,
    left: 6,
    paddingHorizontal: 5,
    borderRadius: 3,
    fontFamily: font.bold,
    fontSize: 11,
    lineHeight: 15,
    letterSpacing: 0.4,
  },
  airTag: { backgroundColor: colour.onAir, color: colour.legend },
  nextTag: { backgroundColor: colour.onPreview, color: colour.legend },
  line: { flexDirection: 'row', alignItems: 'baseline', gap: 8, paddingTop: 4 },
  under: { paddingTop: 4 },
  source: { flexShrink: 1, flexGrow: 1, fontFamily: font.bold, fontSize: 18, color: colour.text },
  sourceNext: { fontFamily: font.semibold, fontSize: 16, color: colour.text, flexShrink: 1 },
  place: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
  moving: { color: colour.warning },
  mix: { fontFamily: font.medium, fontSize: 15, color: colour.warning, fontVariant: ['tabular-nums'] },
  unknown: { flex: 1, alignItems: 'center', justifyContent: 'center', padding: 8, backgroundColor: colour.raised },
  unknownText: { fontFamily: font.medium, fontSize: 14, color: colour.muted, textAlign: 'center' },
});
