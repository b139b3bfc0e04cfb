import { act } from './deeds';

/** Hands the edits of one engineer over to another one. @returns what became of it, in words */
export async function handOver(from: string, to: string): Promise<{ readonly done: boolean; readonly words: string }> {
  try {
    const response = await act('/api/hand-over', { from, to });
    const reply = (await response.json()) as { edits?: number; message?: string; mend?: string };
    if (!response.ok)
      return {
        done: false,
        words: `The edits were not handed over. ${reply.message ?? ''} ${reply.mend ?? ''}`.trim(),
      };
    return { done: true, words: handedWords(to, reply.edits ?? 0) };
  } catch (error) {
    return { done: false, words: error instanceof Error ? error.message : 'The edits were not handed over.' };
  }
}

const handedWords = (to: string, edits: number): string =>
  edits === 0
    ? `${to} works here now.`
    : `${to} works here now and can undo ${edits === 1 ? 'one edit' : `${edits} edits`} made before.`;
