import { useQuery } from '@tanstack/react-query';
import type { BackReply } from '@umbek/protocol';
import { inParts } from '@umbek/core/changes';
import { changeWords, type ShowDocument } from '@umbek/core/show';
import { StyleSheet, Text, View } from 'react-native';
import { Confirm } from '../common/Confirm';
import { ask } from '../show/ask';
import { replyWords } from '../show/replyWords';
import { useEditPart, useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';

/** So many of the things that change are named. */
const NAMED = 12;

async function backTo(editId: string): Promise<BackReply> {
  const response = await ask(`/api/edits/${editId}/back`);
  if (!response.ok)
    throw new Error(replyWords((await response.json()) as { message?: string; mend?: string }, 'It cannot be read.'));
  return (await response.json()) as BackReply;
}

/** Asks before the show goes back to where it was after a row of the history, with what that changes. Undo brings it all back. */
export function GoBack({
  editId,
  document,
  words,
  keep = 'Keep it as it is',
  go,
  label,
  onDone,
}: {
  readonly editId: string;
  readonly document: ShowDocument;
  /** What is asked, of so many edits. */
  readonly words: (edits: number) => string;
  readonly keep?: string;
  readonly go: string;
  /** How the history will name it. */
  readonly label: (to: BackReply) => string;
  /** @param gone whether the show went back */
  readonly onDone: (gone: boolean) => void;
}) {
  const edits = useEdits();
  const revision = useEditPart((state) => state.revision);
  const { data, error } = useQuery({
    queryKey: ['back', editId, revision],
    queryFn: () => backTo(editId),
    staleTime: 0,
    retry: false,
  });
  const lines = data ? changeWords(data.changes, document) : [];
  const goBack = (): void => {
    if (!data) return;
    for (const part of inParts(label(data).slice(0, 180), data.changes)) edits.edit(part.label, part.part);
    onDone(true);
  };
  return (
    <Confirm
      words={error ? error.message : data === undefined ? 'Reading what came after it…' : words(data.edits)}
      keep={keep}
      go={go}
      onKeep={() => onDone(false)}
      onGo={goBack}
      disabled={data === undefined || data.changes.length === 0}
    >
      {data === undefined ? null : (
        <View>
          {data.changes.length === 0 ? <Text style={styles.line}>Nothing is different since then.</Text> : null}
          {lines.slice(0, NAMED).map((line) => (
            <Text key={line} style={styles.line}>
              {line}
            </Text>
          ))}
          {lines.length > NAMED ? <Text style={styles.line}>{`and ${lines.length - NAMED} more`}</Text> : null}
        </View>
      )}
    </Confirm>
  );
}

const styles = StyleSheet.create({ line: { fontFamily: font.regular, fontSize: 14, color: colour.muted } });
