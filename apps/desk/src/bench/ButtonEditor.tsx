import { changed, made, removed } from '@umbek/core/changes';
import { inOrder, orderBetween, orderMoved, picturesFor } from '@umbek/core/programming';
import type { Button as ButtonData, ShowDocument } from '@umbek/core/show';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button, Switch } from 'react-native-paper';
import { ulid } from 'ulid';
import { Heading, TextField } from '../common/fields';
import { Picker } from '../common/Picker';
import { useEditPart, useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { spokenLegend } from '../caps/legend';
import { useFace } from '../live/LiveContext';
import { KeysOf } from './KeysOf';
import { LampRules } from './LampRules';
import { EditorHead } from '../common/EditorHead';
import { FamilyChoice } from '../common/FamilyChoice';
import { TryCap } from './TryCap';
import { WhatItDoes } from './WhatItDoes';
import { Segments } from '../common/Segments';
import { SignChoice } from './SignChoice';

interface ButtonEditorProps {
  readonly document: ShowDocument;
  readonly button: ButtonData;
  /** Just made: the list of steps opens by itself. */
  readonly fresh: boolean;
  readonly onClose: () => void;
  readonly onOpen: (id: string) => void;
  /** Fills the row on from this button. */
  readonly onCount: () => void;
}

/** Everything about one button: what it says, what it does, when it lights. Changes are live at once. */
export function ButtonEditor({ document, button, fresh, onClose, onOpen, onCount }: ButtonEditorProps) {
  const edits = useEdits();
  const fault = useEditPart(({ faults }) => faults.get(button.id));
  const router = useRouter();
  const { tab: part = 'does' } = useLocalSearchParams<{ tab?: string }>();
  const [moving, setMoving] = useState(false);
  const spoken = spokenLegend(button.legend, useFace(button.id)?.legend);
  const strip = document.strips.find((candidate) => candidate.id === button.stripId);
  const siblings = document.buttons.filter((candidate) => candidate.stripId === button.stripId);
  const set = (field: keyof ButtonData, to: unknown, what: string): void =>
    edits.edit(`${what} of ${button.legend}`, [changed('buttons', button, field, to)]);
  const move = (by: -1 | 1): void => {
    const order = orderMoved(siblings, button.id, by);
    if (order !== undefined) set('order', order, 'Place');
  };
  const duplicate = (): void => {
    const sorted = inOrder(siblings);
    const next = sorted[sorted.findIndex((candidate) => candidate.id === button.id) + 1];
    const copy: ButtonData = { ...button, id: ulid(), order: orderBetween(button.order, next?.order ?? null) };
    edits.edit(`Duplicate ${button.legend}`, [made('buttons', copy)]);
    onOpen(copy.id);
  };
  return (
    <View style={styles.all}>
      <View style={styles.top}>
        <EditorHead title={button.legend === '' ? '(no legend)' : spoken} onClose={onClose}>
          <Button compact mode="outlined" onPress={onCount}>
            Count up
          </Button>
        </EditorHead>
        <TryCap button={button} document={document} />
        {fault === undefined ? null : (
          <Text style={styles.fault} role="alert">
            {`Its press is refused. ${fault}`}
          </Text>
        )}
        <Segments
          value={part}
          onChange={(tab) => router.setParams({ tab } as never)}
          options={[
            { value: 'says', label: 'Says' },
            { value: 'does', label: 'Does' },
            { value: 'lights', label: 'Lights' },
          ]}
        />
      </View>
      <ScrollView contentContainerStyle={styles.body}>
        {part === 'says' ? (
          <>
            <TextField
              label="Legend"
              value={button.legend}
              longest={120}
              onChange={(text) => set('legend', text, 'Legend')}
              testID="legend"
            />
            <TextField
              label="Short legend, where there is little room"
              value={button.short}
              longest={40}
              onChange={(text) => set('short', text, 'Short legend')}
            />
            <TextField
              label="Second line"
              value={button.note}
              longest={120}
              onChange={(text) => set('note', text, 'Second line')}
              testID="note"
            />
            <Text style={styles.hint}>{'Live text stands in double braces, in both lines: {{ value.meteors }}.'}</Text>
            <Heading words="Sign" />
            <SignChoice value={button.icon} onChange={(icon) => set('icon', icon, 'Sign')} />
            <PictureChoice document={document} button={button} onChange={(to) => set('picture', to, 'Picture')} />
            <Heading words="Family" />
            <FamilyChoice
              value={button.family}
              onChange={(family) => set('family', family, 'Family')}
              {...(strip ? { inherit: strip.family } : {})}
            />
            <Heading words="Guard">
              <Switch
                value={button.guard === 'secondTouch'}
                onValueChange={(on) => set('guard', on ? 'secondTouch' : 'none', 'Guard')}
                accessibilityLabel="A second touch is needed"
              />
            </Heading>
            <Text style={styles.hint}>
              {button.guard === 'secondTouch'
                ? 'The first touch asks, a second one within three seconds does it.'
                : 'One touch does it. A camera on air asks for a second touch all the same, where its head says so.'}
            </Text>
            <Heading words="Place" />
            <View style={styles.row}>
              <Button mode="outlined" icon="arrow-left" onPress={() => move(-1)}>
                Earlier
              </Button>
              <Button mode="outlined" icon="arrow-right" onPress={() => move(1)}>
                Later
              </Button>
              <Button mode="outlined" icon="arrow-all" onPress={() => setMoving(true)}>
                To another strip
              </Button>
              <Button mode="outlined" icon="content-copy" onPress={duplicate}>
                Duplicate
              </Button>
              <Button
                mode="outlined"
                icon="delete"
                onPress={() => {
                  edits.edit(`Remove ${button.legend}`, [removed('buttons', button)]);
                  onClose();
                }}
              >
                Remove
              </Button>
            </View>
          </>
        ) : null}
        {part === 'does' ? (
          <>
            <WhatItDoes document={document} button={button} fresh={fresh} />
            <KeysOf document={document} runs={{ button: button.id }} name={button.legend} />
          </>
        ) : null}
        {part === 'lights' ? <LampRules document={document} button={button} /> : null}
      </ScrollView>
      <Picker
        title="Move to which strip?"
        memory="strips"
        visible={moving}
        onClose={() => setMoving(false)}
        choices={inOrder(document.strips).map((item) => ({
          key: item.id,
          group: document.panels.find((panel) => panel.id === item.panelId)?.name ?? '',
          words: item.name,
        }))}
        onChoose={(choice) => {
          const last = inOrder(document.buttons.filter((candidate) => candidate.stripId === choice.key)).at(-1);
          edits.edit(`Move ${button.legend} to ${choice.words}`, [
            changed('buttons', button, 'stripId', choice.key),
            changed('buttons', button, 'order', orderBetween(last?.order ?? null, null)),
          ]);
        }}
      />
    </View>
  );
}

/** Whether the cap shows a picture of what its button shows or recalls. Not offered where it does neither. */
function PictureChoice({
  document,
  button,
  onChange,
}: {
  readonly document: ShowDocument;
  readonly button: ButtonData;
  readonly onChange: (picture: string) => void;
}) {
  const offered = picturesFor(button, document);
  if (offered.length === 0 && button.picture === '') return null;
  const gone = button.picture !== '' && !offered.some(({ picture }) => picture === button.picture);
  return (
    <>
      <Heading words="Picture" />
      <Segments
        value={button.picture}
        onChange={onChange}
        options={[
          { value: '', label: 'None' },
          ...offered.map(({ picture, words }) => ({ value: picture, label: words })),
          ...(gone ? [{ value: button.picture, label: 'another one' }] : []),
        ]}
        most={3}
      />
    </>
  );
}

const styles = StyleSheet.create({
  fault: { fontFamily: font.medium, fontSize: 15, color: colour.warning },
  all: { flex: 1 },
  top: { paddingHorizontal: 14, paddingTop: 8, gap: 10 },
  body: { padding: 14, gap: 10, paddingBottom: 48 },
  hint: { fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.muted },
  row: { flexDirection: 'row', gap: 8, flexWrap: 'wrap' },
});
