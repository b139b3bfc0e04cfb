import type { ShowDocument } from '@umbek/core/show';
import type { AskingStation, InvitationReply, JoinedStation, JoiningReply } from '@umbek/protocol';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useCallback, useEffect, useRef, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Confirm } from '../../common/Confirm';
import { Heading } from '../../common/fields';
import { useRights } from '../../live/LiveContext';
import { rightsWords, titled } from '../../live/rightsWords';
import { useEdits } from '../../show/ShowContext';
import { colour, font } from '../../theme/tokens';
import { Crew } from './Crew';
import { ShowStations } from './ShowStations';
import { Invitation } from './Invitation';
import { StationForm } from './StationForm';
import { invite, takeBackInvitation, useJoining, useJoiningDeed } from './useJoining';

/** Stations: those of the show, and the devices that were let in from the room. */
export function Stations({ document }: { readonly document: ShowDocument }) {
  const rights = useRights();
  return (
    <View style={styles.all}>
      <Heading words="Devices from the room" />
      {rights.includes('admit') ? (
        <Admitting />
      ) : (
        <Text style={styles.text}>
          {`This station may not let others in. It ${rightsWords(rights)}. Ask at the engine’s own machine, or somebody who may.`}
        </Text>
      )}
      {rights.includes('admit') ? <Crew /> : null}
      <ShowStations document={document} />
    </View>
  );
}

function Admitting() {
  const edits = useEdits();
  const router = useRouter();
  const { invite: atOnce } = useLocalSearchParams<{ invite?: string }>();
  const [invitation, setInvitation] = useState<InvitationReply | null>(null);
  const [making, setMaking] = useState(false);
  const { data, isError } = useJoining(invitation !== null);
  const make = useCallback((): void => {
    setMaking(true);
    invite()
      .then(setInvitation, (error: Error) => edits.tell(error.message, true))
      .finally(() => setMaking(false));
  }, [edits]);
  const begun = useRef(false);
  const room = data?.room;
  useEffect(() => {
    if (atOnce === undefined || begun.current || room === undefined || room === null) return;
    begun.current = true;
    router.setParams({ invite: undefined } as never);
    make();
  }, [atOnce, make, room, router]);
  const asking = data?.asking ?? [];
  // It is used up when somebody asks with it.
  const [known, setKnown] = useState(0);
  useEffect(() => {
    if (asking.length > known) setInvitation(null);
    setKnown(asking.length);
  }, [asking.length, known]);
  const over = useCallback(
    (takenBack: boolean): void => {
      if (invitation !== null && takenBack) takeBackInvitation(invitation.id).catch(() => undefined);
      if (!takenBack) edits.tell('The figures ran out. Nobody used them.', false);
      setInvitation(null);
    },
    [invitation, edits],
  );
  if (isError && data === undefined)
    return (
      <Text style={styles.fault} role="alert">
        The stations cannot be read: the engine or its database does not answer.
      </Text>
    );
  if (data === undefined) return null;
  if (room === null || room === undefined)
    return (
      <View style={styles.all}>
        <Text style={styles.text}>
          Umbek listens on this machine only. No phone and no other machine can reach it, and nobody has to be let in.
        </Text>
        <Text style={styles.text}>
          To let them join, end it and start it with <Text style={styles.strong}>npm start -- --room</Text>.
        </Text>
      </View>
    );
  return (
    <View style={styles.all}>
      {asking.map((item) => (
        <Asking key={item.id} asking={item} joined={data.joined} />
      ))}
      {invitation === null ? (
        <Button mode="contained" icon="plus" style={styles.left} loading={making} onPress={make}>
          Let a device in
        </Button>
      ) : (
        <Invitation key={invitation.id} invitation={invitation} onOver={over} />
      )}
      {data.joined.length === 0 ? (
        <Text style={styles.hint}>
          No station has been let in yet. This machine needs none: whoever is at it may do all.
        </Text>
      ) : null}
      <View style={styles.cards}>
        {data.joined.map((item) => (
          <Joined key={item.id} station={item} />
        ))}
      </View>
      <Certificate room={room} />
    </View>
  );
}

/** A name that no other station has. */
function freeName(name: string, joined: readonly JoinedStation[]): string {
  const taken = new Set(joined.map((item) => item.name));
  for (let number = 1; ; number += 1) {
    const next = number === 1 ? name : `${name} ${number}`;
    if (!taken.has(next)) return next;
  }
}

function Asking({ asking, joined }: { readonly asking: AskingStation; readonly joined: readonly JoinedStation[] }) {
  const deed = useJoiningDeed();
  const path = `/api/joining/${asking.id}`;
  const [first] = useState(() => ({
    name: freeName(asking.name, joined),
    person: '',
    rights: ['see' as const, 'operate' as const],
  }));
  return (
    <View style={[styles.whole, styles.asking]} role="alert" testID="asking">
      <Text style={styles.name}>{`“${asking.name}” asks to be let in`}</Text>
      <Text style={styles.text}>{`It says: ${asking.device}. It comes from ${asking.address}.`}</Text>
      <StationForm
        first={first}
        go="Let it in"
        keep="Refuse"
        busy={deed.isPending}
        onGo={(to) => deed.mutate({ path, body: { let: true, ...to } })}
        onKeep={() => deed.mutate({ path, body: { let: false } })}
      />
    </View>
  );
}

function Joined({ station }: { readonly station: JoinedStation }) {
  const [how, setHow] = useState<'seen' | 'changed' | 'sentAway'>('seen');
  const deed = useJoiningDeed();
  const { id, name, person, device, rights, signedIn, present, address, note } = station;
  const path = `/api/joined/${id}`;
  const pages = present === 1 ? 'one page open' : `${present} pages open`;
  const where =
    present > 0 ? `Here now, ${pages}, from ${address}` : address === '' ? 'Not here' : `Not here, was at ${address}`;
  return (
    <View style={styles.card} testID={`joined-${name}`}>
      <Text style={styles.name}>{person === '' ? name : `${name} · ${person}`}</Text>
      <Text style={styles.text}>
        {`${titled(rightsWords(rights))}.${signedIn === null ? '' : ` ${signedIn} is signed in at it.`}`}
      </Text>
      <Text style={styles.hint}>{`${where} · ${device}`}</Text>
      {note === '' ? null : <Text style={styles.fault}>{note}</Text>}
      {how === 'seen' ? (
        <View style={styles.row}>
          <Button mode="outlined" accessibilityLabel={`Change ${name}`} onPress={() => setHow('changed')}>
            Change
          </Button>
          <Button mode="outlined" accessibilityLabel={`Send ${name} away`} onPress={() => setHow('sentAway')}>
            Send away
          </Button>
        </View>
      ) : how === 'changed' ? (
        <StationForm
          first={{ name, person, rights }}
          go="Save"
          keep="Close"
          busy={deed.isPending}
          onGo={(body) => deed.mutate({ path, body }, { onSuccess: () => setHow('seen') })}
          onKeep={() => setHow('seen')}
        />
      ) : (
        <Confirm
          words={`${name} is let in no more, at once; what it holds is released. It can join again with new figures.`}
          keep="Keep it"
          onKeep={() => setHow('seen')}
          go="Send it away"
          onGo={() => deed.mutate({ path, method: 'DELETE' })}
        />
      )}
    </View>
  );
}

const DAY_MS = 86_400_000;

/** What a person compares before a device is told to trust the certificate. */
function Certificate({ room }: { readonly room: NonNullable<JoiningReply['room']> }) {
  const left = Math.floor((Date.parse(room.until) - Date.now()) / DAY_MS);
  const until = new Date(room.until).toLocaleDateString([], { dateStyle: 'medium' });
  return (
    <View style={styles.whole}>
      <Heading words="Certificate" />
      {left < 0 ? (
        <Text style={styles.fault} role="alert">
          {`It ran out on ${until}: devices refuse the page. Give Umbek a new one, and start it again.`}
        </Text>
      ) : left < 14 ? (
        <Text style={styles.fault}>{`It runs out on ${until}, in ${left} days. Give Umbek a new one in time.`}</Text>
      ) : null}
      <Text style={styles.hint}>
        A device that does not know it yet warns once. Its join page tells how to trust it, and shows these figures:
      </Text>
      <Text selectable style={styles.print}>
        {room.fingerprint}
      </Text>
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 14 },
  cards: { flexDirection: 'row', flexWrap: 'wrap', gap: 12 },
  card: { gap: 8, padding: 14, borderRadius: 8, backgroundColor: colour.raised, flexGrow: 1, flexBasis: 320 },
  whole: { gap: 8, padding: 14, borderRadius: 8, backgroundColor: colour.raised },
  name: { fontFamily: font.semibold, fontSize: 18, color: colour.text },
  asking: { borderLeftWidth: 4, borderLeftColor: colour.warning },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  left: { alignSelf: 'flex-start' },
  text: { fontFamily: font.regular, fontSize: 16, lineHeight: 21, color: colour.text },
  strong: { fontFamily: font.semibold },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  fault: { fontFamily: font.medium, fontSize: 15, lineHeight: 20, color: colour.warning },
  print: {
    fontFamily: font.regular,
    fontSize: 15,
    lineHeight: 20,
    color: colour.muted,
    wordBreak: 'break-all',
    fontVariant: ['tabular-nums'],
  } as object,
});
