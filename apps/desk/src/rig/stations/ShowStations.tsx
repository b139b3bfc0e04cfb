import { useMutation, useQuery } from '@tanstack/react-query';
import { made } from '@umbek/core/changes';
import { inOrder, orderBetween } from '@umbek/core/order';
import type { Panel, ShowDocument, Station } from '@umbek/core/show';
import { panelsFor } from '@umbek/core/shown';
import type { StationsReply } from '@umbek/protocol';
import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { Heading } from '../../common/fields';
import { Picker } from '../../common/Picker';
import { readIdentity, writeIdentity } from '../../live/identity';
import { useLive, useRights } from '../../live/LiveContext';
import { ask } from '../../show/ask';
import { useEdits } from '../../show/ShowContext';
import { colour, font } from '../../theme/tokens';
import { OnScreen, PadWays, padWords, TakeOff } from './PadWays';
import { aboutWords, batteryLow } from './aboutWords';
import { HandOver } from './HandOver';
import { PlaceKeys } from './PlaceKeys';
import { StationEditor } from './StationEditor';
import { toStation, Which } from './Which';

type Present = StationsReply[number];
const LOOK_MS = 2000;

async function read(): Promise<StationsReply> {
  const response = await ask('/api/stations');
  if (!response.ok) throw new Error(String(response.status));
  return (await response.json()) as StationsReply;
}

/** The stations of the show: who acts as each, what it shows, what it may show and with whom it shares what is chosen. */
export function ShowStations({ document }: { readonly document: ShowDocument }) {
  const edits = useEdits();
  const { data } = useQuery({ queryKey: ['stations'], queryFn: read, staleTime: 0, refetchInterval: LOOK_MS });
  const [open, setOpen] = useState<string | null>(null);
  const stations = inOrder(document.stations);
  const add = (): void => {
    const station: Station = {
      id: ulid(),
      name: `Station ${stations.length + 1}`,
      place: '',
      panels: [],
      opensOn: null,
      linkGroup: 'main',
      loose: [],
      parts: [],
      placed: [],
      order: orderBetween(stations.at(-1)?.order ?? null, null),
    };
    edits.edit(`New station ${station.name}`, [made('stations', station)]);
    setOpen(station.id);
  };
  const others = (data ?? []).filter(({ id }) => !stations.some((station) => station.id === id));
  return (
    <View style={styles.all}>
      <Heading words="Stations of this show" />
      <Text style={styles.hint}>
        A station is a screen with its panels. A browser acts as one: it opens on that station’s panel, also after a
        restart, and shares what is chosen with the stations of its link group.
      </Text>
      <View style={styles.cards}>
        {stations.map((station) => (
          <StationCard
            key={station.id}
            document={document}
            station={station}
            present={data?.find(({ id }) => id === station.id)}
            open={open === station.id}
            onOpen={(to) => setOpen(to ? station.id : null)}
          />
        ))}
        {others.map((other) => (
          <View key={other.id} style={styles.card} testID={`page-${other.name}`}>
            <Text style={styles.name}>
              {other.person === undefined ? other.name : `${other.name} · ${other.person}`}
            </Text>
            <Text style={styles.text}>
              {other.pad === undefined
                ? `${shows(document, other)} It acts as no station of the show.`
                : `${padWords(other.pad)}, serial number ${other.pad.serial}. It has no place yet, so it shows nothing.${stations.length === 0 ? ' Add a station for it first.' : ''}`}
            </Text>
            <About present={other} />
            {other.pad === undefined ? (
              <Ways document={document} present={other} allowed={inOrder(document.panels)} />
            ) : (
              <PadWays document={document} id={other.id} pad={other.pad} />
            )}
          </View>
        ))}
      </View>
      <Button mode="outlined" icon="plus" style={styles.left} onPress={add}>
        Add a station
      </Button>
    </View>
  );
}

const panelName = ({ panels }: ShowDocument, id: string | null): string | undefined =>
  panels.find((panel) => panel.id === id)?.name;

function shows(document: ShowDocument, { panel, pages, pad }: Present): string {
  const name = panelName(document, panel);
  const here = pad === undefined ? 'Here' : `${padWords(pad)} is here`;
  return `${pages > 1 ? `${here}, with ${pages} pages` : here}${name === undefined ? ', off the Desk' : `, shows ${name}`}.`;
}

function StationCard({
  document,
  station,
  present,
  open,
  onOpen,
}: {
  readonly document: ShowDocument;
  readonly station: Station;
  readonly present: Present | undefined;
  readonly open: boolean;
  readonly onOpen: (open: boolean) => void;
}) {
  const live = useLive();
  const edits = useEdits();
  const [placing, setPlacing] = useState(false);
  const { id, name, place, panels, opensOn, linkGroup, loose, parts } = station;
  const allowed = panelsFor(inOrder(document.panels), station);
  const mine = readIdentity().claims === id;
  const claim = (claims: string | null): void => {
    writeIdentity({ ...readIdentity(), claims });
    live.introduce();
    edits.tell(claims === null ? `This page acts as no station now.` : `This page acts as ${name} now.`, false);
  };
  const others = document.stations.filter((candidate) => candidate.id !== id && candidate.linkGroup === linkGroup);
  return (
    <View style={styles.card} testID={`station-${name}`}>
      <Text style={styles.name}>
        {[name, place, ...(present?.person === undefined ? [] : [present.person])].filter(Boolean).join(' · ')}
      </Text>
      <Text style={styles.text}>
        {[
          present?.present === true ? shows(document, present) : 'Nobody acts as it.',
          `Opens on ${(allowed.find((candidate) => candidate.id === opensOn) ?? allowed[0])?.name ?? 'no panel'}.`,
          panels.length === 0 ? 'Shows all panels.' : `Shows ${allowed.map((item) => item.name).join(', ')}.`,
          others.length === 0
            ? 'Shares what is chosen with no other station.'
            : `Shares what is chosen with ${others.map((other) => other.name).join(', ')}.`,
          loose.length === 0
            ? ''
            : `Cut loose: ${loose.map((item) => panelName(document, item) ?? 'a panel that is gone').join(', ')}.`,
          parts.length === 0
            ? ''
            : `Shows a part of ${parts.map(({ panel }) => panelName(document, panel) ?? 'a panel that is gone').join(', ')}.`,
        ]
          .filter(Boolean)
          .join(' ')}
      </Text>
      {present?.present === true ? <About present={present} /> : null}
      <View style={styles.row}>
        <Button mode="outlined" accessibilityLabel={`Change ${name}`} onPress={() => onOpen(!open)}>
          {open ? 'Close' : 'Change'}
        </Button>
        <Button
          mode="outlined"
          accessibilityLabel={mine ? `Act as ${name} no more` : `Act as ${name} here`}
          onPress={() => claim(mine ? null : id)}
        >
          {mine ? 'No longer this page' : 'Act as it here'}
        </Button>
        {present?.present === true ? <Ways document={document} present={present} allowed={allowed} /> : null}
        {present?.pad === undefined ? null : (
          <OnScreen pad={present.pad} panel={present.panel} station={id} name={name} />
        )}
        {present?.pad === undefined || (present.panel ?? null) === null ? null : (
          <Button mode="outlined" accessibilityLabel={`Place the keys of ${name}`} onPress={() => setPlacing(true)}>
            Place its keys
          </Button>
        )}
        {present?.pad === undefined ? null : <TakeOff pad={present.pad} name={name} />}
      </View>
      {placing && present?.pad !== undefined && present.panel !== null ? (
        <PlaceKeys
          document={document}
          station={station}
          panelId={present.panel}
          pad={present.pad}
          onClose={() => setPlacing(false)}
        />
      ) : null}
      {open ? <StationEditor document={document} station={station} onClose={() => onOpen(false)} /> : null}
    </View>
  );
}

/** What a station says of the machine that it runs on. */
function About({ present }: { readonly present: Present }) {
  const words = aboutWords(present);
  return words === '' ? null : <Text style={batteryLow(present) ? styles.fault : styles.hint}>{words}</Text>;
}

/** What a station that is there can be sent. */
function Ways({
  document,
  present: { id, name, person = '', pad },
  allowed,
}: {
  readonly document: ShowDocument;
  readonly present: Present;
  readonly allowed: readonly Panel[];
}) {
  const edits = useEdits();
  const admits = useRights().includes('admit');
  const [choosing, setChoosing] = useState(false);
  const send = useMutation({
    mutationFn: (panel: string) => toStation(id, 'show', { panel }),
    onError: (error: Error) => edits.tell(error.message, true),
  });
  return (
    <View style={styles.row}>
      <Button mode="outlined" onPress={() => setChoosing(true)}>
        Show a panel there
      </Button>
      <Which id={id} />
      {admits && pad === undefined ? <HandOver id={id} name={name} person={person} /> : null}
      {choosing ? (
        <Picker
          title="Which panel?"
          visible
          memory="panels"
          choices={allowed.map((item) => ({
            key: item.id,
            group: 'Panels',
            words: panelName(document, item.id) ?? '',
          }))}
          onChoose={({ key }) => {
            setChoosing(false);
            send.mutate(key);
          }}
          onClose={() => setChoosing(false)}
        />
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 12 },
  cards: { flexDirection: 'row', flexWrap: 'wrap', gap: 12, alignItems: 'flex-start' },
  card: { gap: 8, padding: 14, borderRadius: 8, backgroundColor: colour.raised, flexGrow: 1, flexBasis: 320 },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  left: { alignSelf: 'flex-start' },
  name: { fontFamily: font.semibold, fontSize: 17, color: colour.text },
  text: { fontFamily: font.regular, fontSize: 16, lineHeight: 21, color: colour.text },
  fault: { fontFamily: font.medium, fontSize: 15, lineHeight: 20, color: colour.warning },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
});
