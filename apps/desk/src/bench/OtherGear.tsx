import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { runsWords } from '@umbek/core/entryWords';
import { pressedId, runsAt } from '@umbek/core/shortcut';
import type { Runs, ShowDocument } from '@umbek/core/show';
import type { NewTokenReply, OscHeard, TokensReply } from '@umbek/protocol';
import { useState } from 'react';
import { ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { Confirm } from '../common/Confirm';
import { EditorHead } from '../common/EditorHead';
import { Heading } from '../common/fields';
import { Segments } from '../common/Segments';
import { agoWords } from '../live/Ago';
import { act } from '../live/deeds';
import { ask } from '../show/ask';
import { replyWords } from '../show/replyWords';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { NewName } from './NewName';
import { RunsPicker } from './RunsPicker';

type Token = TokensReply['tokens'][number];
/** What is shown this once. */
interface Told extends Pick<Token, 'name' | 'kind' | 'may'> {
  readonly token: string;
}
const QUERY = ['tokens'];

async function read(): Promise<TokensReply> {
  const response = await ask('/api/tokens');
  if (!response.ok) throw new Error(String(response.status));
  return (await response.json()) as TokensReply;
}

/** Tokens by which gear on the network runs buttons and macros: made, told once, revoked. They belong to this installation and stand in no show. */
export function OtherGear({ document, onClose }: { readonly document: ShowDocument; readonly onClose: () => void }) {
  const edits = useEdits();
  const queries = useQueryClient();
  const [making, setMaking] = useState(false);
  const [shown, setTold] = useState<Told | null>(null);
  const { data, isError } = useQuery({ queryKey: QUERY, queryFn: read, staleTime: 0, refetchInterval: 5000 });
  const failed = (error: Error): void => edits.tell(error.message, true);
  const make = useMutation({
    mutationFn: async ({ name, may, kind }: Pick<Token, 'name' | 'may' | 'kind'>) => {
      const response = await act('/api/tokens', { id: ulid(), name, may, kind });
      if (!response.ok) throw new Error(replyWords((await response.json()) as object));
      return { name, kind, may, ...((await response.json()) as NewTokenReply) };
    },
    onSuccess: ({ name, kind, may, token, tokens, osc }) => {
      setMaking(false);
      setTold({ name, kind, may, token });
      queries.setQueryData(QUERY, { tokens, osc });
    },
    onError: failed,
  });
  const revoke = useMutation({
    mutationFn: async ({ id, name }: Token) => {
      const response = await act(`/api/tokens/${id}`, {}, { method: 'DELETE' });
      if (!response.ok) throw new Error(replyWords((await response.json()) as object));
      edits.tell(`The token of ${name} is revoked. Nothing runs with it any more.`, false);
      setTold(null);
    },
    onError: failed,
    onSettled: () => queries.invalidateQueries({ queryKey: QUERY }),
  });
  const tokens = data?.tokens ?? [];
  return (
    <ScrollView contentContainerStyle={styles.body}>
      <EditorHead title="Other gear" onClose={onClose} />
      <Text style={styles.hint}>
        Gear runs a button, a macro or a trigger by a request with a token, by opening a link, or by an OSC message. All
        of them belong to this installation, not to the show, and can be revoked at any time.
      </Text>
      {shown === null || data === undefined ? null : (
        <ToldOnce document={document} shown={shown} osc={data.osc} onDone={() => setTold(null)} />
      )}
      {data === undefined ? null : <HeardOsc osc={data.osc} />}
      {making ? (
        <NewToken
          document={document}
          onMake={(name, may, kind) => make.mutate({ name, may, kind })}
          onCancel={() => setMaking(false)}
        />
      ) : (
        <Button
          mode="outlined"
          icon="plus"
          style={styles.left}
          loading={make.isPending}
          onPress={() => setMaking(true)}
        >
          New token
        </Button>
      )}
      {isError ? (
        <Text style={styles.fault} role="alert">
          The tokens cannot be read: the engine or its database does not answer.
        </Text>
      ) : data !== undefined && tokens.length === 0 ? (
        <Text style={styles.hint}>No token yet: no other gear runs anything here.</Text>
      ) : null}
      {tokens.map((token) => (
        <TokenCard key={token.id} document={document} token={token} onRevoke={() => revoke.mutate(token)} />
      ))}
    </ScrollView>
  );
}

const placeOf = (document: ShowDocument, runs: Runs): string =>
  runsWords(document, runs) || 'something of another show';

/** So many addresses of a new OSC token are written out. */
const WRITTEN = 3;

/** What a sender of OSC sends for what its token may run. */
function oscAddresses(document: ShowDocument, { token, may }: Told): string[] {
  const [first] = document.macros;
  const runs = may ?? (first === undefined ? [] : [{ macro: first.id }]);
  return runs.slice(0, WRITTEN).map((run) => {
    const { entity, id } = runsAt(run);
    if (entity === 'triggers') return `/umbek/${token}/trigger/${pressedId(run).replace('.', '/')}`;
    const macro = document.macros.find((each) => each.id === id);
    return `/umbek/${token}/${macro === undefined ? `button/${id}` : `macro/${macro.number}`}`;
  });
}

/** Where OSC is heard, and what of it was not done last: nobody else tells whoever sets up a sender. */
function HeardOsc({ osc }: { readonly osc: OscHeard }) {
  const { port, addresses, trouble, notDone } = osc;
  if (port === null && trouble === null && notDone === null) return null;
  return (
    <View style={styles.card} testID="osc">
      <Heading words="OSC" />
      {port === null ? null : (
        <Text style={styles.text}>{`Heard on UDP port ${port} of ${addresses.join(' and ')}.`}</Text>
      )}
      {trouble === null ? null : (
        <Text style={styles.fault} role="alert">
          {trouble}
        </Text>
      )}
      {notDone === null ? null : (
        <Text style={styles.fault}>
          {`Not done, ${agoWords(notDone.agoMs)} ago, from ${notDone.from}: ${notDone.words}`}
        </Text>
      )}
    </View>
  );
}

const WAYS: Readonly<Record<Token['kind'], { readonly what: string; readonly called: string; readonly hint: string }>> =
  {
    bearer: { what: 'token', called: 'Token', hint: 'A request that runs macro 1:' },
    link: {
      what: 'link',
      called: 'Link',
      hint: 'Whoever opens it presses. Give it to the gear alone, and open it in no browser that keeps a history.',
    },
    osc: {
      what: 'address',
      called: 'OSC',
      hint: 'Arguments are the parameters of the macro, in their order. A button takes 1 for down and 0 for up; send 1 again three times a second to hold it. OSC is not encrypted: whoever listens on the network can send the same.',
    },
  };

/** The token or link, which is never shown again, and a request that can be tried at once. */
function ToldOnce({
  document,
  shown,
  osc: { port, addresses },
  onDone,
}: {
  readonly document: ShowDocument;
  readonly shown: Told;
  readonly osc: OscHeard;
  readonly onDone: () => void;
}) {
  const edits = useEdits();
  const { name, kind, token } = shown;
  const { what, called, hint } = WAYS[kind];
  const secret =
    kind === 'link'
      ? `${window.location.origin}/api/run/${token}`
      : kind === 'osc'
        ? oscAddresses(document, shown).join('\n')
        : token;
  const copy = (): void =>
    void (navigator.clipboard?.writeText(secret) ?? Promise.reject(new Error())).then(
      () => edits.tell(`The ${what} is copied.`, false),
      () => edits.tell(`This browser does not copy here. Select the ${what} and copy it.`, true),
    );
  return (
    <View style={styles.card}>
      <Text style={styles.name}>{`${called} of ${name}`}</Text>
      <Text style={styles.fault}>It is shown only this once. Copy it now; if it gets lost, make another one.</Text>
      {kind === 'osc' && port !== null ? (
        <Text style={styles.text}>{`Send to UDP port ${port} of ${addresses.join(' or ')}:`}</Text>
      ) : null}
      <Text selectable style={styles.code} testID="token">
        {secret}
      </Text>
      <Text style={styles.hint}>{hint}</Text>
      {kind === 'bearer' ? (
        <Text selectable style={styles.code}>
          {`curl -H 'Authorization: Bearer ${token}' -d '{"macro":1}' ${window.location.origin}/api/run`}
        </Text>
      ) : null}
      <View style={styles.row}>
        <Button mode="contained" onPress={copy}>
          {`Copy the ${what}`}
        </Button>
        <Button mode="outlined" onPress={onDone}>
          I have it
        </Button>
      </View>
    </View>
  );
}

function NewToken({
  document,
  onMake,
  onCancel,
}: {
  readonly document: ShowDocument;
  readonly onMake: (name: string, may: Token['may'], kind: Token['kind']) => void;
  readonly onCancel: () => void;
}) {
  const edits = useEdits();
  const [way, setWay] = useState<'chosen' | 'all' | 'link' | 'osc'>('chosen');
  const all = way === 'all';
  const [chosen, setChosen] = useState<readonly Runs[]>([]);
  const [choosing, setChoosing] = useState(false);
  const same = (item: Runs, other: Runs): boolean => pressedId(item) === pressedId(other);
  return (
    <NewName
      label="Name of the gear, such as Sound desk"
      make="Make the token"
      onCancel={onCancel}
      onMake={(name) => {
        if (!all && chosen.length === 0) return edits.tell('Choose first what it may run.', true);
        if (way === 'link' && chosen.length > 1)
          return edits.tell('A link runs one thing. Leave the others out.', true);
        onMake(name.slice(0, 60), all ? null : [...chosen], way === 'link' || way === 'osc' ? way : 'bearer');
      }}
    >
      <Segments
        // As chips: side by side a phone would cut each of them short.
        most={2}
        value={way}
        onChange={(to) => setWay(to === 'all' || to === 'link' || to === 'osc' ? to : 'chosen')}
        options={[
          { value: 'chosen', label: 'Runs what is chosen' },
          { value: 'all', label: 'Runs everything' },
          { value: 'link', label: 'A link that runs one thing' },
          { value: 'osc', label: 'OSC messages' },
        ]}
      />
      {all ? null : (
        <View style={styles.row}>
          {chosen.map((runs) => (
            <Button
              key={pressedId(runs)}
              mode="outlined"
              icon="close"
              accessibilityLabel={`Leave out ${placeOf(document, runs)}`}
              onPress={() => setChosen(chosen.filter((candidate) => !same(candidate, runs)))}
            >
              {placeOf(document, runs)}
            </Button>
          ))}
          <Button mode="outlined" icon="plus" onPress={() => setChoosing(true)}>
            A button, macro or trigger
          </Button>
        </View>
      )}
      <RunsPicker
        document={document}
        title="What may it run?"
        several={way !== 'link'}
        visible={choosing}
        onClose={() => setChoosing(false)}
        onChoose={(runs) =>
          setChosen((before) =>
            way === 'link' ? [runs] : [...before.filter((candidate) => !same(candidate, runs)), runs],
          )
        }
      />
    </NewName>
  );
}

/** So many of what a token may run are named; the rest is counted. */
const NAMED = 4;

function TokenCard({
  document,
  token,
  onRevoke,
}: {
  readonly document: ShowDocument;
  readonly token: Token;
  readonly onRevoke: () => void;
}) {
  const [sure, setSure] = useState(false);
  const { name, may, kind, usedAt, madeAt } = token;
  const time = (at: string): string => new Date(at).toLocaleString([], { dateStyle: 'short', timeStyle: 'short' });
  const runs =
    may === null
      ? 'every button and macro'
      : [
          ...may.slice(0, NAMED).map((item) => placeOf(document, item)),
          ...(may.length > NAMED ? [`${may.length - NAMED} more`] : []),
        ].join(', ');
  return (
    <View style={styles.card} testID={`token-${token.id}`}>
      <Heading words={name} />
      <Text
        style={styles.text}
      >{`${kind === 'link' ? 'A link that runs' : kind === 'osc' ? 'OSC that runs' : 'Runs'} ${runs}.`}</Text>
      <Text style={styles.hint}>
        {`Made ${time(madeAt)} · ${usedAt === null ? 'not used since the engine began' : `last used ${time(usedAt)}`}`}
      </Text>
      {sure ? (
        <Confirm
          words={`${name} can run nothing any more, at once. A revoked token does not come back.`}
          keep="Keep it"
          onKeep={() => setSure(false)}
          go="Revoke it"
          onGo={onRevoke}
        />
      ) : (
        <Button
          mode="outlined"
          style={styles.left}
          accessibilityLabel={`Revoke the token of ${name}`}
          onPress={() => setSure(true)}
        >
          Revoke
        </Button>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  body: { padding: 14, gap: 12, paddingBottom: 48 },
  card: { gap: 8, padding: 12, borderRadius: 8, backgroundColor: colour.raised },
  name: { fontFamily: font.semibold, fontSize: 17, color: colour.text },
  text: { fontFamily: font.regular, fontSize: 16, lineHeight: 21, color: colour.text },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  fault: { fontFamily: font.medium, fontSize: 15, lineHeight: 20, color: colour.warning },
  code: {
    fontFamily: font.regular,
    fontSize: 15,
    lineHeight: 20,
    color: colour.text,
    backgroundColor: colour.ground,
    borderRadius: 6,
    padding: 8,
    wordBreak: 'break-all',
  } as object,
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  left: { alignSelf: 'flex-start' },
});
