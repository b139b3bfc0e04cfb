import type { ButtonPlan } from '@umbek/core/programming';
import type { Button as ButtonData, Strip as StripData } from '@umbek/core/show';
import { memo, type ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';
import { IconButton } from 'react-native-paper';
import { CapFace } from '../caps/CapFace';
import { StripFrame } from '../caps/StripFrame';
import { useStripShown } from '../live/LiveContext';
import { colour } from '../theme/tokens';
import { BenchCap } from './BenchCap';
import { DropStrip } from './DropStrip';
import type { Count } from './useCount';

/** What can be done to a strip and its caps. */
export interface StripActs {
  /** @returns whether the key moved that cap */
  readonly key: (id: string, event: KeyboardEvent) => boolean;
  /** @param range the Shift key was down: all from the last one to this */
  readonly tap: (id: string, range: boolean) => void;
  readonly all: (ids: readonly string[]) => void;
  readonly edit: (stripId: string) => void;
  readonly add: (strip: StripData) => void;
}

interface BenchStripProps {
  readonly strip: StripData;
  readonly buttons: readonly ButtonData[];
  readonly columns: number;
  readonly count: Count | null;
  /** Several are being chosen: a touch takes a cap in or leaves it out. */
  readonly choosing: boolean;
  readonly chosen: ReadonlySet<string> | null;
  /** The one of its caps whose editor is open. */
  readonly open: string | undefined;
  /** Who else has which selected. */
  readonly others: ReadonlyMap<string, string>;
  /** What is dragged would stand at its end, or before this cap of it. */
  readonly over: boolean;
  readonly before: string | undefined;
  readonly acts: StripActs;
}

/** Every edit makes a new list of buttons; a strip is drawn anew when one of its own is another one. */
function same(item: BenchStripProps, next: BenchStripProps): boolean {
  const names = Object.keys(next) as (keyof BenchStripProps)[];
  return names.every((name) =>
    name === 'buttons'
      ? item.buttons.length === next.buttons.length && item.buttons.every((button, at) => button === next.buttons[at])
      : Object.is(item[name], next[name]),
  );
}

/** A strip as the operator sees it, with what edits it beside it. */
export const BenchStrip = memo(function BenchStrip({
  strip,
  buttons,
  columns,
  count,
  choosing,
  chosen,
  open,
  others,
  over,
  before,
  acts,
}: BenchStripProps) {
  useStripShown(strip.id);
  const last = count?.mode === 'more' ? count.buttons.at(-1) : undefined;
  const isChosen = (button: ButtonData): boolean =>
    count ? count.buttons.includes(button) : choosing ? chosen?.has(button.id) === true : button.id === open;
  return (
    <>
      <View style={styles.row}>
        <View style={styles.fill}>
          <DropStrip
            strip={strip}
            columns={columns}
            over={over}
            items={buttons.flatMap((each, index) => [
              {
                key: each.id,
                broad: each.dial !== null && each.dial.by === 0,
                tall: each.picture !== '',
                node: (
                  <BenchCap
                    button={each}
                    strip={strip}
                    chosen={isChosen(each)}
                    choosing={choosing}
                    other={others.get(each.id)}
                    become={count?.become.get(each.id)}
                    next={buttons[index + 1]?.id ?? null}
                    before={before === each.id}
                    onKey={acts.key}
                    onPress={acts.tap}
                  />
                ),
              },
              ...(each.id === last?.id ? plannedCaps(count?.result.across ?? [], strip) : []),
            ])}
          />
        </View>
        <View>
          {choosing ? (
            <IconButton
              icon="check-all"
              size={20}
              style={styles.more}
              accessibilityLabel={`All of ${strip.name}`}
              onPress={() => acts.all(buttons.map(({ id }) => id))}
            />
          ) : (
            <>
              <IconButton
                icon="dots-vertical"
                size={20}
                style={styles.more}
                accessibilityLabel={`Edit strip ${strip.name}`}
                onPress={() => acts.edit(strip.id)}
              />
              <IconButton
                icon="plus"
                size={20}
                style={styles.more}
                accessibilityLabel={`Add a button to ${strip.name}`}
                onPress={() => acts.add(strip)}
              />
            </>
          )}
        </View>
      </View>
      {strip.id === last?.stripId
        ? count?.result.strips.map((planned) => (
            <View key={planned.name} style={styles.row}>
              <View style={styles.fill}>
                <StripFrame
                  strip={{ ...strip, name: planned.name }}
                  columns={columns}
                  items={plannedCaps(planned.buttons, strip)}
                />
              </View>
              <View style={styles.more} />
            </View>
          ))
        : null}
    </>
  );
}, same);

/** Caps that a count would make: in their place, not yet there. */
const plannedCaps = (plans: readonly ButtonPlan[], strip: StripData): { key: string; node: ReactNode }[] =>
  plans.map((plan, at) => ({
    key: `planned-${at}`,
    node: (
      <View style={[styles.cap, styles.planned]} testID="planned-cap">
        <CapFace
          legend={plan.legend}
          second={plan.note.includes('{{') ? 'live text' : plan.note}
          lamp={null}
          lost={false}
          family={plan.family ?? strip.family}
        />
      </View>
    ),
  }));

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'flex-start' },
  fill: { flex: 1, minWidth: 0 },
  more: { margin: 0, width: 44, height: 44 },
  cap: { flex: 1, minWidth: 0, flexDirection: 'row', borderRadius: 5 },
  planned: { outlineWidth: 1, outlineStyle: 'dashed', outlineColor: colour.warning, outlineOffset: 1, opacity: 0.66 },
});
