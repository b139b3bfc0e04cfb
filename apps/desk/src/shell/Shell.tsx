import { Link, useGlobalSearchParams, usePathname, Slot } from 'expo-router';
import { useEffect, useState } from 'react';
import { Pressable, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { useJoined, useRights } from '../live/LiveContext';
import { Joystick } from '../live/Joystick';
import { StopHandle } from './StopHandle';
import { useScreenOn } from '../live/screenOn';
import { colour, families, font, WIDE } from '../theme/tokens';
import { ConflictDialog } from './ConflictDialog';
import { OtherShow } from './OtherShow';
import { EditNotice } from './EditNotice';
import { fetchPlaces } from './laterPlace';
import { Flash } from './Flash';
import { Handed } from './Handed';
import { NameRequest } from './NameRequest';
import { StationDialog } from './StationDialog';

/** The places of the application, those that are there. */
const PLACES = [
  { path: '/', name: 'Desk' },
  { path: '/bench', name: 'Bench' },
  { path: '/rig', name: 'Rig' },
  { path: '/log', name: 'Log' },
] as const;

/** Where one was in each place: its link leads back there, and from there to its beginning. */
const left = new Map<string, string>();

/** What is around every place: the way to the others and the handle that stops everything. */
export function Shell() {
  const { width, height } = useWindowDimensions();
  const wide = width >= WIDE;
  const low = !wide && height < 500 && width >= 600;
  const path = usePathname();
  const here =
    PLACES.findLast((place) => path === place.path || (place.path !== '/' && path.startsWith(place.path)))?.path ??
    null;
  const params = useGlobalSearchParams();
  useEffect(() => {
    const query = new URLSearchParams(
      Object.entries(params).flatMap(([key, value]) =>
        typeof value === 'string' && !path.split('/').includes(value) ? [[key, value]] : [],
      ),
    ).toString();
    if (here !== null) left.set(here, query === '' ? path : `${path}?${query}`);
  }, [here, path, params]);
  const [station, setStation] = useState(false);
  const rights = useRights();
  const joined = useJoined();
  useEffect(() => fetchPlaces(), []);
  useScreenOn();
  const places = PLACES.map((place) => (
    <PlaceLink key={place.path} {...place} here={place.path === here} wide={wide} />
  ));
  return (
    <View style={[styles.all, wide && styles.wide]}>
      {wide ? (
        <View style={styles.rail} role="navigation" accessibilityLabel="Places">
          <Pressable
            onPress={() => setStation(true)}
            accessibilityLabel="This station"
            role="button"
            style={styles.mark}
          >
            <View style={styles.markHead} />
            <View style={styles.markFoot} />
          </Pressable>
          {places}
          <View style={styles.fill} />
          <StopHandle upright />
        </View>
      ) : null}
      <View style={styles.fill}>
        <Joystick />
        {here === '/' || here === '/log' || rights.includes('program') ? null : (
          <Text style={styles.looks} role="status">
            This station may look here, and not change the show. To change it, sign in: This station.
          </Text>
        )}
        <Slot />
        {here === '/' || joined ? null : <NameRequest onName={() => setStation(true)} />}
      </View>
      {wide ? null : (
        <View style={[styles.bar, low && styles.barLow]} role="navigation" accessibilityLabel="Places">
          {here === '/' ? null : (
            <View style={styles.stop}>
              <StopHandle />
              <View style={styles.fill} />
            </View>
          )}
          <View style={styles.places}>
            {places}
            <Pressable
              onPress={() => setStation(true)}
              accessibilityLabel="This station"
              role="button"
              style={styles.place}
            >
              <View style={styles.knob} />
              <Text style={styles.name}>Station</Text>
            </Pressable>
          </View>
        </View>
      )}
      <StationDialog visible={station} onClose={() => setStation(false)} />
      <ConflictDialog />
      <OtherShow />
      <EditNotice wide={wide} />
      <Flash />
      <Handed />
    </View>
  );
}

function PlaceLink({
  path,
  name,
  here,
  wide,
}: {
  readonly path: string;
  readonly name: string;
  readonly here: boolean;
  readonly wide: boolean;
}) {
  return (
    <Link href={(here ? path : (left.get(path) ?? path)) as never} asChild>
      <Pressable
        aria-current={here ? 'page' : undefined}
        accessibilityLabel={name}
        style={wide ? styles.placeWide : styles.place}
      >
        <View style={wide ? [styles.sideMark, here && styles.hereMark] : [styles.topMark, here && styles.hereMark]} />
        <Text style={[styles.name, here && styles.hereName]}>{name}</Text>
      </Pressable>
    </Link>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, backgroundColor: colour.ground },
  wide: { flexDirection: 'row' },
  looks: {
    fontFamily: font.medium,
    fontSize: 15,
    color: colour.text,
    backgroundColor: colour.raised,
    borderLeftWidth: 4,
    borderLeftColor: colour.warning,
    paddingHorizontal: 12,
    paddingVertical: 8,
  },
  fill: { flex: 1, minWidth: 0 },
  // What the handle would do is shown over the place beside it.
  rail: {
    zIndex: 2,
    width: 84,
    paddingVertical: 16,
    alignItems: 'stretch',
    gap: 4,
    backgroundColor: colour.plate,
    borderRightWidth: 1,
    borderRightColor: colour.hairline,
  },
  mark: { alignSelf: 'center', width: 44, height: 44, padding: 6, justifyContent: 'center', marginBottom: 10 },
  markHead: {
    height: 20,
    backgroundColor: colour.cap,
    borderTopWidth: 4,
    borderTopColor: colour.onAir,
    borderTopLeftRadius: 3,
    borderTopRightRadius: 3,
  },
  markFoot: { height: 4, backgroundColor: families.moss, borderBottomLeftRadius: 3, borderBottomRightRadius: 3 },
  bar: { backgroundColor: colour.plate, borderTopWidth: 1, borderTopColor: colour.hairline, paddingBottom: 4 },
  barLow: { flexDirection: 'row', alignItems: 'center' },
  stop: { flexDirection: 'row', paddingHorizontal: 12, paddingTop: 8 },
  places: { flexDirection: 'row', justifyContent: 'space-around', flexGrow: 1, flexShrink: 1, flexWrap: 'wrap' },
  place: { minHeight: 48, minWidth: 48, flexGrow: 1, alignItems: 'center', justifyContent: 'center', gap: 5 },
  placeWide: { minHeight: 44, flexDirection: 'row', alignItems: 'center', gap: 12 },
  topMark: { width: 34, height: 4, borderRadius: 2 },
  sideMark: { width: 4, height: 30, borderTopRightRadius: 2, borderBottomRightRadius: 2 },
  hereMark: { backgroundColor: colour.cap },
  knob: { width: 10, height: 4, borderRadius: 2, backgroundColor: colour.hairline },
  name: { fontFamily: font.medium, fontSize: 15, color: colour.muted },
  hereName: { fontFamily: font.semibold, color: colour.text },
});
