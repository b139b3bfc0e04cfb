import { freshSteps, oppositesOf } from '@umbek/core/programming';
import type { ShowDocument, Step } from '@umbek/core/show';
import type { ReactNode } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Heading } from '../common/fields';
import { Segments } from '../common/Segments';
import { colour, font } from '../theme/tokens';
import { type StepOwner, stepsOf } from './owner';

/** What ends something: the way back to what stood before it, told beforehand, or steps of its own, which begin as that way back. */
export function BackAsBefore({
  document,
  owner,
  title,
  asBefore,
  nothing,
  onAsBefore,
  onOwn,
  children,
}: {
  readonly document: ShowDocument;
  readonly owner: StepOwner;
  readonly title: string;
  readonly asBefore: boolean;
  /** What is told where nothing of it can be named. */
  readonly nothing: string;
  readonly onAsBefore: () => void;
  /** @param derived what the way back would do, as far as that can be said beforehand */
  readonly onOwn: (derived: Step[]) => void;
  /** The steps of its own. */
  readonly children: ReactNode;
}) {
  const opposites = oppositesOf(owner.entry.steps, document);
  return (
    <View style={styles.part}>
      <Heading words={title} />
      <Segments
        value={asBefore ? 'asBefore' : 'steps'}
        onChange={(to) =>
          to === 'asBefore'
            ? onAsBefore()
            : onOwn(
                freshSteps(
                  opposites.flatMap(({ step }) => step ?? []),
                  stepsOf(owner),
                ),
              )
        }
        options={[
          { value: 'asBefore', label: 'Back as before' },
          { value: 'steps', label: 'These steps' },
        ]}
      />
      {asBefore ? (
        <>
          {opposites.map(({ words }, at) => (
            <Text key={`${at}${words}`} style={styles.derived}>
              {words}
            </Text>
          ))}
          <Text style={styles.hint}>
            {opposites.length === 0 ? nothing : 'What somebody else changes meanwhile stays as it is.'}
          </Text>
        </>
      ) : (
        children
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  part: { gap: 10 },
  derived: { fontFamily: font.regular, fontSize: 16, lineHeight: 21, color: colour.text },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
});
