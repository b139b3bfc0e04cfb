import { inParts } from '@umbek/core/programming';
import type { Device, ShowDocument } from '@umbek/core/show';
import { useEffect, useMemo, useRef, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button, TextInput } from 'react-native-paper';
import { chooseFile } from '../common/chooseFile';
import { Heading } from '../common/fields';
import { listen } from '../live/listen';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { CSV_COLUMNS, type CsvTarget, planCsv } from './csvPlan';

/** A longer list stands in no field: a browser takes minutes to lay out ten thousand lines. Characters. */
const LONGEST_SHOWN = 20_000;
/** So many lines are shown before they are taken. */
const SHOWN = 8;
const TITLES: Readonly<Record<CsvTarget, string>> = {
  devices: 'Devices from a list',
  sources: 'Sources from a list',
  labels: 'Labels from a list',
  people: 'People from a list',
};

interface CsvImportProps {
  readonly document: ShowDocument;
  readonly target: CsvTarget;
  readonly router?: Device;
  readonly onClose: () => void;
}

/** A list as CSV, pasted or from a file: seen as what it would make, with the line of each fault, and taken in one edit. */
export function CsvImport({ document, target, router, onClose }: CsvImportProps) {
  const edits = useEdits();
  const [text, setText] = useState('');
  const plan = useMemo(
    () => (text.trim() === '' ? null : planCsv(text, target, document, router)),
    [text, target, document, router],
  );
  const field = useRef<View>(null);
  const short = text.length <= LONGEST_SHOWN;
  useEffect(() => {
    const element = short ? (field.current as unknown as HTMLElement | null) : null;
    return element === null
      ? undefined
      : listen(element, { paste: (event: ClipboardEvent) => takeLong(event, setText) });
  }, [short]);
  const { needed, more } = CSV_COLUMNS[target];
  const read = (): void => {
    if (!plan) return;
    for (const { label, part } of inParts(`${TITLES[target]}: ${plan.preview.length}`, plan.changes))
      edits.edit(label, part);
    onClose();
  };
  return (
    <View style={styles.form}>
      <Heading words={TITLES[target]} />
      <Text
        style={styles.hint}
      >{`The first line names the columns: ${needed.join(', ')}${more.length > 0 ? `, and if wanted ${more.join(', ')}` : ''}.`}</Text>
      {text.length > LONGEST_SHOWN ? (
        <View style={styles.long}>
          <Text style={[styles.text, styles.fill]}>{`${linesIn(text)} lines are read.`}</Text>
          <Button onPress={() => setText('')}>Another list</Button>
        </View>
      ) : (
        <View ref={field}>
          <TextInput
            mode="outlined"
            multiline
            value={text}
            onChangeText={setText}
            accessibilityLabel="The list as CSV"
            placeholder={`${[...needed, ...more].join(',')}\n…`}
            style={styles.input}
            contentStyle={styles.inputText}
          />
        </View>
      )}
      <Button
        mode="outlined"
        icon="upload"
        style={styles.left}
        onPress={() =>
          void chooseFile('.csv,text/csv,text/plain', (words) => edits.tell(words, true)).then(
            (file) => file !== null && setText(file),
          )
        }
      >
        From a file
      </Button>
      {plan && plan.faults.length > 0 ? (
        <View role="alert" style={styles.preview} testID="csv-faults">
          {plan.faults.slice(0, SHOWN).map((fault) => (
            <Text key={`${fault.line}${fault.words}`} style={styles.fault}>
              {`Line ${fault.line}: ${fault.words}`}
            </Text>
          ))}
          {plan.faults.length > SHOWN ? (
            <Text style={styles.fault}>{`and ${plan.faults.length - SHOWN} more lines`}</Text>
          ) : null}
        </View>
      ) : null}
      {plan && plan.faults.length === 0 ? (
        <View style={styles.preview} testID="csv-preview">
          {plan.preview.slice(0, SHOWN).map((line) => (
            <Text key={line} style={styles.text}>
              {line}
            </Text>
          ))}
          {plan.preview.length > SHOWN ? (
            <Text style={styles.text}>{`and ${plan.preview.length - SHOWN} more`}</Text>
          ) : null}
        </View>
      ) : null}
      <View style={styles.line}>
        <Button onPress={onClose}>Cancel</Button>
        <Button mode="contained" disabled={!plan || plan.changes.length === 0} onPress={read}>
          {`Take ${plan?.changes.length === 0 ? 0 : (plan?.preview.length ?? 0)}`}
        </Button>
      </View>
    </View>
  );
}

const linesIn = (text: string): number => text.split(/\r\n|\n|\r/).filter((line) => line.trim() !== '').length;

/** A long list that is pasted goes past the field. */
function takeLong(event: ClipboardEvent, read: (text: string) => void): void {
  const pasted = event.clipboardData?.getData('text/plain') ?? '';
  if (pasted.length <= LONGEST_SHOWN) return;
  event.preventDefault();
  read(pasted);
}

const styles = StyleSheet.create({
  form: { gap: 10, maxWidth: 560 },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  input: { backgroundColor: colour.plate, minHeight: 110, maxHeight: 300 },
  inputText: { fontFamily: 'monospace', fontSize: 13, lineHeight: 18, paddingVertical: 10 },
  preview: { gap: 2, backgroundColor: colour.plate, borderRadius: 5, padding: 10 },
  text: { fontFamily: font.regular, fontSize: 15, color: colour.text, fontVariant: ['tabular-nums'] },
  fault: { fontFamily: font.medium, fontSize: 14, color: colour.warning },
  line: { flexDirection: 'row', justifyContent: 'flex-end', gap: 8 },
  left: { alignSelf: 'flex-start' },
  long: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    padding: 10,
    borderRadius: 5,
    backgroundColor: colour.plate,
  },
  fill: { flex: 1 },
});
