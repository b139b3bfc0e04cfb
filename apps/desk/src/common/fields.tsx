import { useEffect, useRef, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button, IconButton, TextInput } from 'react-native-paper';
import { colour, font } from '../theme/tokens';

/** What a text field holds is given on when it is left, at Enter, or when nobody has typed for this long. */
const REST_MS = 700;

interface TextFieldProps {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
  /** What is wrong with a text, with the mend; null when it fits. */
  readonly fault?: (value: string) => string | null;
  readonly longest?: number;
  readonly multiline?: boolean;
  /** What it names was made just now: the field is in sight, and what is typed takes the place of the proposal. */
  readonly fresh?: boolean;
  /** Enter has given on a text that fits. */
  readonly onDone?: () => void;
  readonly testID?: string;
}

/** A line of text. A text that does not fit is told beside it and not given on. */
export function TextField({
  label,
  value,
  onChange,
  fault,
  longest,
  multiline = false,
  fresh = false,
  onDone,
  testID,
}: TextFieldProps) {
  const [text, setText] = useState(value);
  const typed = useRef(false);
  /** What stood here when the typing began. */
  const base = useRef(value);
  useEffect(() => {
    if (!typed.current) setText(value);
  }, [value]);
  const meanwhile = typed.current && value !== base.current && value !== text;
  const wrong =
    (longest !== undefined && [...text].length > longest
      ? `At most ${longest} characters; this is ${[...text].length}.`
      : null) ??
    fault?.(text) ??
    null;
  const give = (anyway = false): void => {
    if (!typed.current || wrong !== null || (meanwhile && !anyway)) return;
    typed.current = false;
    if (text !== value) onChange(text);
  };
  const takeTheirs = (): void => {
    typed.current = false;
    setText(value);
  };
  const latest = useRef(give);
  latest.current = give;
  useEffect(() => {
    if (!typed.current) return undefined;
    const timer = setTimeout(give, REST_MS);
    return () => clearTimeout(timer);
  });
  // What was typed is not lost because the field or the page goes away.
  useEffect(() => {
    const leave = (): void => latest.current();
    window.addEventListener('pagehide', leave);
    return () => {
      window.removeEventListener('pagehide', leave);
      leave();
    };
  }, []);
  return (
    <View>
      <TextInput
        mode="outlined"
        dense
        label={label}
        accessibilityLabel={label}
        value={text}
        multiline={multiline}
        autoFocus={fresh}
        selectTextOnFocus={fresh}
        error={wrong !== null}
        onChangeText={(next) => {
          if (!typed.current) base.current = value;
          typed.current = true;
          setText(next);
        }}
        onBlur={() => give()}
        onSubmitEditing={() => {
          give();
          if (wrong === null) onDone?.();
        }}
        {...(testID === undefined ? {} : { testID })}
      />
      {meanwhile ? (
        <View style={styles.meanwhile} role="alert">
          <Text style={styles.wrong}>{`Somebody changed this to “${value}” while you typed.`}</Text>
          <View style={styles.choices}>
            <Button compact onPress={takeTheirs}>
              Keep theirs
            </Button>
            <Button compact mode="outlined" onPress={() => give(true)}>
              Save mine
            </Button>
          </View>
        </View>
      ) : null}
      {wrong === null ? null : (
        <Text style={styles.wrong} role="alert">
          {wrong}
        </Text>
      )}
    </View>
  );
}

interface NumberFieldProps {
  readonly label: string;
  readonly value: number;
  readonly unit?: string;
  readonly step?: number;
  readonly min?: number | null;
  readonly max?: number | null;
  readonly whole?: boolean;
  readonly onChange: (value: number) => void;
}

/** A number with steppers and its unit. */
export function NumberField({
  label,
  value,
  unit = '',
  step = 1,
  min = null,
  max = null,
  whole = false,
  onChange,
}: NumberFieldProps) {
  const fault = (text: string): string | null => {
    const number = Number(text.replace(',', '.'));
    if (text.trim() === '' || !Number.isFinite(number)) return 'Give a number.';
    if (whole && !Number.isInteger(number)) return 'Give a whole number.';
    if (min !== null && number < min) return `At least ${min} ${unit}`.trim() + '.';
    return max !== null && number > max ? `At most ${max} ${unit}`.trim() + '.' : null;
  };
  const clamp = (next: number): number =>
    Math.round(Math.min(max ?? Infinity, Math.max(min ?? -Infinity, next)) * 1000) / 1000;
  return (
    <View style={styles.number}>
      <View style={styles.fill}>
        <TextField
          label={unit === '' ? label : `${label} (${unit})`}
          value={String(value)}
          fault={fault}
          onChange={(text) => onChange(Number(text.replace(',', '.')))}
        />
      </View>
      <IconButton
        icon="minus"
        size={20}
        accessibilityLabel={`${label} less`}
        disabled={min !== null && value <= min}
        onPress={() => onChange(clamp(value - step))}
      />
      <IconButton
        icon="plus"
        size={20}
        accessibilityLabel={`${label} more`}
        disabled={max !== null && value >= max}
        onPress={() => onChange(clamp(value + step))}
      />
    </View>
  );
}

/** A heading inside a place. */
export const Heading = ({ words, children }: { readonly words: string; readonly children?: React.ReactNode }) => (
  <View style={styles.heading}>
    <Text style={styles.headingText} role="heading">
      {words.toUpperCase()}
    </Text>
    {children}
  </View>
);

const styles = StyleSheet.create({
  wrong: { fontFamily: font.medium, fontSize: 13, color: colour.warning, paddingTop: 3, paddingHorizontal: 4 },
  meanwhile: { gap: 2 },
  choices: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  number: { flexDirection: 'row', alignItems: 'flex-start', gap: 0 },
  fill: { flex: 1 },
  heading: { flexDirection: 'row', alignItems: 'center', gap: 8, minHeight: 40 },
  headingText: { flex: 1, fontFamily: font.semibold, fontSize: 13, letterSpacing: 0.8, color: colour.muted },
});
