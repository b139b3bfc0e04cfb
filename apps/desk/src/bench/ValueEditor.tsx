import { changed, removed } from '@umbek/core/changes';
import { MOST_LINES } from '@umbek/core/expression';
import { fieldOfValue, typeOfValue, usesOf, VALUE_TYPES, valueWords } from '@umbek/core/programming';
import type { PlainValue, ShowDocument, ShowValue } from '@umbek/core/show';
import { useMemo } from 'react';
import { ScrollView, StyleSheet, Text, View } from 'react-native';
import { EditorHead } from '../common/EditorHead';
import { Heading, TextField } from '../common/fields';
import { Removal } from '../common/Removal';
import { Segments } from '../common/Segments';
import { act } from '../live/deeds';
import { readIdentity } from '../live/identity';
import { usePoint } from '../live/LiveContext';
import { PlaceLink } from '../show/PlaceLink';
import { replyWords } from '../show/replyWords';
import { useEdits } from '../show/ShowContext';
import { ParamField } from '../steps/ParamField';
import { colour, font } from '../theme/tokens';

/** Places that use a value, as many as are listed. */
const MOST_LISTED = 100;

/** One value: what it holds now, what it begins with, what uses it. What it holds now is set at once, and the log says so. */
export function ValueEditor({
  document,
  value,
  onClose,
}: {
  readonly document: ShowDocument;
  readonly value: ShowValue;
  readonly onClose: () => void;
}) {
  const edits = useEdits();
  const now = usePoint(`value.${value.key}`);
  const uses = useMemo(() => usesOf(document, { kind: 'value', key: value.key }), [document, value.key]);
  const set = (field: keyof ShowValue & string, to: unknown, what: string): void =>
    edits.edit(`${what} of ${value.name}`, [changed('values', value, field, to)]);
  const setNow = async (to: PlainValue): Promise<void> => {
    const name = `Set ${value.name} to ${valueWords(document, value, to)}`.slice(0, 120);
    const steps = [{ id: 'set', onFail: 'stop', kind: 'set', target: `value.${value.key}`, to }];
    try {
      const response = await act('/api/steps/run', { name, steps, owns: [], station: readIdentity().station });
      if (!response.ok) edits.tell(replyWords((await response.json()) as { message?: string; mend?: string }), true);
    } catch (error) {
      edits.tell(error instanceof Error ? error.message : 'It was not set.', true);
    }
  };
  const type = typeOfValue(value);
  const start = fieldOfValue(document, value, 'Begins with');
  return (
    <ScrollView contentContainerStyle={styles.body}>
      <EditorHead title={value.name} onClose={onClose} />
      <Heading words="Now" />
      {now === undefined ? (
        <Text style={styles.hint}>What it holds is not known: no contact with the engine.</Text>
      ) : type === 'list' ? (
        <Entries label="Holds now, one entry a line" value={String(now)} onChange={(to) => void setNow(to)} />
      ) : (
        <ParamField
          document={document}
          device=""
          field={fieldOfValue(document, value, 'Holds now')}
          value={now}
          onChange={(to) => {
            if (to !== undefined && typeof to !== 'object') void setNow(to);
          }}
        />
      )}
      <Heading words="At the start of the show" />
      {type === 'list' ? (
        <Entries
          label="Begins with, one entry a line"
          value={String(value.start)}
          onChange={(to) => set('start', to, 'Start')}
        />
      ) : (
        <ParamField
          document={document}
          device=""
          field={start}
          value={value.start}
          onChange={(to) => {
            if (to !== undefined && typeof to !== 'object') set('start', to, 'Start');
          }}
        />
      )}
      <Segments
        value={value.atShowStart}
        onChange={(to) => set('atShowStart', to, 'Begin show')}
        options={[
          { value: 'reset', label: 'Begin show sets it back' },
          { value: 'keep', label: 'Begin show keeps it' },
        ]}
      />
      <Heading words="Name and type" />
      <TextField
        label="Name"
        value={value.name}
        longest={120}
        fault={(text) => (text.trim() === '' ? 'Give the value a name.' : null)}
        onChange={(name) => set('name', name, 'Name')}
      />
      <Segments value={type} onChange={(to) => set('type', to, 'Type')} options={VALUE_TYPES} most={3} />
      {type === 'choice' ? (
        <TextField
          label="Choices, one a line"
          value={value.choices.join('\n')}
          multiline
          fault={(text) =>
            linesOf(text).length === 0
              ? 'Give at least one choice.'
              : linesOf(text).some((line) => line.length > 120)
                ? 'At most 120 characters a choice.'
                : null
          }
          onChange={(text) => set('choices', linesOf(text).slice(0, 200), 'Choices')}
        />
      ) : null}
      <Text style={styles.hint}>
        {type === 'list'
          ? `In legends and conditions: lines(value.${value.key})`
          : `In legends and conditions: value.${value.key}`}
      </Text>
      <Heading
        words={
          uses.length === 0 ? 'Nothing uses it yet' : `Used in ${uses.length} ${uses.length === 1 ? 'place' : 'places'}`
        }
      />
      {uses.slice(0, MOST_LISTED).map(({ at, where }) => (
        <PlaceLink key={`${at.entity}/${at.id}`} at={at} words={where} />
      ))}
      {uses.length > MOST_LISTED ? <Text style={styles.hint}>{`and ${uses.length - MOST_LISTED} more`}</Text> : null}
      <View>
        <Removal
          what={value.name}
          words={
            uses.length === 0
              ? 'Nothing uses it. Undo brings it back.'
              : 'Buttons that use it will be refused, and lamps that use it stay off. Undo brings it back.'
          }
          onRemove={() => {
            edits.edit(`Remove value ${value.name}`, [removed('values', value)]);
            onClose();
          }}
        />
      </View>
    </ScrollView>
  );
}

/** A list as it is typed: an entry a line. */
function Entries({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
}) {
  const count = value.split('\n').filter(Boolean).length;
  return (
    <>
      <TextField
        label={label}
        value={value}
        multiline
        longest={60_000}
        fault={(text) =>
          text.split('\n').filter(Boolean).length > MOST_LINES ? `At most ${MOST_LINES} entries.` : null
        }
        onChange={onChange}
      />
      <Text style={styles.hint}>{count === 1 ? '1 entry' : `${count} entries`}</Text>
    </>
  );
}

const linesOf = (text: string): string[] => [
  ...new Set(
    text
      .split('\n')
      .map((line) => line.trim())
      .filter(Boolean),
  ),
];

const styles = StyleSheet.create({
  body: { padding: 14, gap: 10, paddingBottom: 48 },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
});
