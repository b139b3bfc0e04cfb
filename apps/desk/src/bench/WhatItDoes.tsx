import { changed, dialsOf, NEW_LEGEND, oppositesOf } from '@umbek/core/programming';
import type { Addition, Button as ButtonData, ButtonSet, Dial, ShowDocument, Step } from '@umbek/core/show';
import { StyleSheet, Text, View } from 'react-native';
import { Button, IconButton } from 'react-native-paper';
import { AnchoredMenu } from '../common/AnchoredMenu';
import { Heading, NumberField, TextField } from '../common/fields';
import { Segments } from '../common/Segments';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { type StepOwner, stepsOf } from './owner';
import { BackAsBefore } from './BackAsBefore';
import { StepList } from './StepList';
import { freeId } from './steps';

const MOST_SETS = 8;
type Kind = 'press' | 'hold' | 'turns' | 'dial';

/** What a button does: once, while it is held, or one set after the other; and what it does beside its press. */
export function WhatItDoes({
  document,
  button,
  fresh,
}: {
  readonly document: ShowDocument;
  readonly button: ButtonData;
  readonly fresh: boolean;
}) {
  const edits = useEdits();
  const owner: StepOwner = { entity: 'buttons', entry: button };
  const kind: Kind =
    button.dial !== null ? 'dial' : button.mode === 'hold' ? 'hold' : button.sets.length > 0 ? 'turns' : 'press';
  const dials = dialsOf(button.steps[0], document);
  const become = (next: Kind): void => {
    if (next === kind) return;
    const [first] = dials;
    if (next === 'dial' && first === undefined)
      return edits.tell(
        'Add a step first that sets a number: a level, a brightness, a place in a clip, a value.',
        true,
      );
    const mode = next === 'hold' ? 'hold' : 'press';
    const sets = next === 'turns' ? [proposedSet(owner, document)] : [];
    // What begins at the press ends at the release, unless somebody says otherwise.
    const ends = next === 'hold' && button.releaseSteps.length === 0;
    edits.edit(`Kind of press of ${button.legend}`, [
      ...(mode === button.mode ? [] : [changed('buttons', button, 'mode', mode)]),
      ...(sets.length === 0 && button.sets.length === 0 ? [] : [changed('buttons', button, 'sets', sets)]),
      ...(ends ? [changed('buttons', button, 'atRelease', 'asBefore')] : []),
      ...(next === 'dial' || button.dial !== null
        ? [changed('buttons', button, 'dial', next === 'dial' ? (first?.dial ?? null) : null)]
        : []),
    ]);
  };
  return (
    <>
      <Segments
        value={kind}
        onChange={(next) => become(next as Kind)}
        options={[
          { value: 'press', label: 'Once' },
          { value: 'hold', label: 'While held' },
          { value: 'turns', label: 'In turn' },
          { value: 'dial', label: 'In the hand' },
        ]}
        most={3}
      />
      <StepList
        document={document}
        owner={owner}
        list="steps"
        title={kind === 'turns' ? `First: ${button.legend}` : kind === 'dial' ? 'What is turned' : 'When pressed'}
        fresh={fresh}
      />
      {kind === 'hold' ? <AtRelease document={document} button={button} owner={owner} /> : null}
      {kind === 'turns' ? <Sets document={document} button={button} owner={owner} /> : null}
      {kind === 'dial' && button.dial !== null ? <DialForm button={button} dial={button.dial} dials={dials} /> : null}
      {kind === 'hold' || kind === 'dial' ? null : <Additions document={document} button={button} owner={owner} />}
    </>
  );
}

/** A set that takes back what the button does, as far as that can be said beforehand. */
function proposedSet(owner: StepOwner, document: ShowDocument): ButtonSet {
  const taken: Step[] = [...stepsOf(owner)];
  const steps = oppositesOf(owner.entry.steps, document).flatMap(({ step }) => {
    if (step === null) return [];
    const own = { ...step, id: freeId(taken) };
    taken.push(own);
    return [own];
  });
  const name = owner.entity === 'buttons' ? owner.entry.legend : '';
  // Without a name of its own there is none to be had from it.
  const named = name !== '' && name !== NEW_LEGEND && steps.length > 0;
  return { id: 'set2', legend: named ? `${name} off`.slice(0, 120) : '', steps, so: '' };
}

/** How a value in the hand is turned: dragged, or step by step; which of the step's numbers, and within which limits. */
function DialForm({
  button,
  dial,
  dials,
}: {
  readonly button: ButtonData;
  readonly dial: Dial;
  readonly dials: ReturnType<typeof dialsOf>;
}) {
  const edits = useEdits();
  const setDial = (part: Partial<Dial>): void =>
    edits.edit(`Value in the hand of ${button.legend}`, [changed('buttons', button, 'dial', { ...dial, ...part })]);
  const way = dial.by === 0 ? 'drag' : dial.by > 0 ? 'up' : 'down';
  const number = (label: string, value: number, onChange: (value: number) => void, min: number | null = null) => (
    <NumberField
      label={label}
      unit={dial.unit}
      step={dial.step}
      min={min}
      max={null}
      value={value}
      onChange={onChange}
    />
  );
  return (
    <View style={styles.part}>
      {dials.length > 1 ? (
        <Segments
          value={dial.param}
          onChange={(param) => {
            const next = dials.find((candidate) => candidate.dial.param === param)?.dial;
            if (next !== undefined) setDial({ ...next, by: Math.sign(dial.by) * next.step });
          }}
          options={dials.map(({ title, dial: item }) => ({ value: item.param, label: title }))}
        />
      ) : null}
      <Segments
        value={way}
        onChange={(to) => setDial({ by: to === 'drag' ? 0 : (to === 'up' ? 1 : -1) * Math.abs(dial.by || dial.step) })}
        options={[
          { value: 'drag', label: 'Dragged' },
          { value: 'up', label: 'Step up' },
          { value: 'down', label: 'Step down' },
        ]}
      />
      {dial.by === 0
        ? null
        : number('Each press by', Math.abs(dial.by), (by) => setDial({ by: Math.sign(dial.by) * by }), dial.step)}
      {number('Lowest', dial.min, (min) => setDial({ min: Math.min(min, dial.max) }))}
      {number('Highest', dial.max, (max) => setDial({ max: Math.max(max, dial.min) }))}
      <Text style={styles.hint}>
        {dial.by === 0
          ? 'Dragging begins where the value is, so that nothing jumps. Arrow keys and the wheel turn it too.'
          : 'It repeats while it is held.'}
      </Text>
    </View>
  );
}

interface PartProps {
  readonly document: ShowDocument;
  readonly button: ButtonData;
  readonly owner: StepOwner;
}

/** What ends a hold. */
function AtRelease({ document, button, owner }: PartProps) {
  const edits = useEdits();
  const what = `At release of ${button.legend}`;
  return (
    <BackAsBefore
      document={document}
      owner={owner}
      title="When released"
      asBefore={button.atRelease === 'asBefore'}
      nothing="Whatever the steps above begin, the release ends."
      onAsBefore={() => edits.edit(what, [changed('buttons', button, 'atRelease', 'asBefore')])}
      onOwn={(derived) =>
        edits.edit(what, [
          changed('buttons', button, 'atRelease', 'steps'),
          ...(button.releaseSteps.length === 0 ? [changed('buttons', button, 'releaseSteps', derived)] : []),
        ])
      }
    >
      <StepList document={document} owner={owner} list="releaseSteps" title="" fresh={false} />
    </BackAsBefore>
  );
}

/** The sets that follow the first. */
function Sets({ document, button, owner }: PartProps) {
  const edits = useEdits();
  const setSets = (sets: readonly ButtonSet[], what: string): void =>
    edits.edit(`${what} of ${button.legend}`, [changed('buttons', button, 'sets', sets)]);
  const change = (id: string, part: Partial<ButtonSet>, what: string): void =>
    setSets(
      button.sets.map((set) => (set.id === id ? { ...set, ...part } : set)),
      what,
    );
  return (
    <>
      <Text style={styles.hint}>
        Each press does the next one. Which is next, the devices tell, also when somebody else changed it. Where they
        tell nothing, the cap says “as last sent”.
      </Text>
      {button.sets.map((set, at) => (
        <View key={set.id} style={styles.part}>
          <View style={styles.line}>
            <View style={styles.fill}>
              <TextField
                label={`Legend of the ${ORDINALS[at + 1] ?? 'next'}`}
                value={set.legend}
                longest={120}
                onChange={(legend) => change(set.id, { legend }, 'Legend of a set')}
              />
            </View>
            <IconButton
              icon="delete"
              accessibilityLabel={`Remove the ${ORDINALS[at + 1] ?? 'next'} set`}
              onPress={() =>
                setSets(
                  button.sets.filter((candidate) => candidate.id !== set.id),
                  'Set',
                )
              }
            />
          </View>
          <StepList
            document={document}
            owner={owner}
            list={`sets.${set.id}`}
            title={`${(ORDINALS[at + 1] ?? 'next').replace(/^./, (item) => item.toUpperCase())}: ${set.legend || button.legend}`}
            fresh={false}
          />
          <TextField
            label="This set is on when (CEL); empty: the devices tell"
            value={set.so}
            longest={2000}
            onChange={(so) => change(set.id, { so }, 'Condition of a set')}
          />
        </View>
      ))}
      {button.sets.length < MOST_SETS ? (
        <Button
          mode="outlined"
          icon="plus"
          style={styles.add}
          onPress={() => {
            const numbers = button.sets.map(({ id }) => Number(id.replace(/\D/g, '')));
            setSets(
              [...button.sets, { id: `set${Math.max(1, ...numbers) + 1}`, legend: '', steps: [], so: '' }],
              'Set',
            );
          }}
        >
          Add another set
        </Button>
      ) : null}
    </>
  );
}

const ORDINALS = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth', 'ninth'];

const ADDITIONS: Readonly<
  Record<Addition['at'], { readonly words: string; readonly add: string; readonly ms: number }>
> = {
  release: { words: 'At release', add: 'At release', ms: 600 },
  held: { words: 'Held for', add: 'When it is held for a time', ms: 800 },
  again: { words: 'Pressed again within', add: 'When it is pressed again soon', ms: 400 },
};

/** What it does beside its press. */
function Additions({ document, button, owner }: PartProps) {
  const edits = useEdits();
  const setAdditions = (additions: readonly Addition[], what: string): void =>
    edits.edit(`${what} of ${button.legend}`, [changed('buttons', button, 'additions', additions)]);
  const left = (Object.keys(ADDITIONS) as Addition['at'][]).filter(
    (at) => !button.additions.some((addition) => addition.at === at),
  );
  return (
    <>
      {button.additions.map((addition) => {
        const { words } = ADDITIONS[addition.at];
        return (
          <View key={addition.at} style={styles.part}>
            <View style={styles.line}>
              <View style={styles.fill}>
                {addition.at === 'release' ? (
                  <Heading words={words} />
                ) : (
                  <NumberField
                    label={words}
                    unit="s"
                    step={0.1}
                    min={0.15}
                    max={10}
                    value={addition.ms / 1000}
                    onChange={(value) =>
                      setAdditions(
                        button.additions.map((other) =>
                          other.at === addition.at ? { ...other, ms: Math.round(value * 1000) } : other,
                        ),
                        words,
                      )
                    }
                  />
                )}
              </View>
              <IconButton
                icon="delete"
                accessibilityLabel={`Remove ${words.toLowerCase()}`}
                onPress={() =>
                  setAdditions(
                    button.additions.filter((other) => other.at !== addition.at),
                    words,
                  )
                }
              />
            </View>
            {addition.at === 'again' && button.guard !== 'none' ? (
              <Text style={styles.warn}>
                This button is guarded: its second touch is the press. This is never done.
              </Text>
            ) : null}
            <StepList document={document} owner={owner} list={`additions.${addition.at}`} title="" fresh={false} />
          </View>
        );
      })}
      {left.length === 0 ? null : (
        <AnchoredMenu
          items={left.map((at) => ({
            title: ADDITIONS[at].add,
            onPress: () =>
              setAdditions([...button.additions, { at, ms: ADDITIONS[at].ms, steps: [] }], ADDITIONS[at].words),
          }))}
          anchor={(open) => (
            <Button mode="outlined" icon="plus" style={styles.add} onPress={open}>
              Do more: at release, held, pressed again
            </Button>
          )}
        />
      )}
    </>
  );
}

const styles = StyleSheet.create({
  part: { gap: 8, paddingTop: 6, borderTopWidth: 1, borderTopColor: colour.hairline },
  line: { flexDirection: 'row', alignItems: 'center', gap: 6 },
  fill: { flex: 1 },
  hint: { fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.muted },
  warn: { fontFamily: font.medium, fontSize: 14, lineHeight: 19, color: colour.warning },
  add: { borderStyle: 'dashed' },
});
