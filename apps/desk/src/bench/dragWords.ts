import type { Announcements } from '@dnd-kit/core';

/** What is read aloud while something is dragged: names, where the library would say ids. @param words of what has this id */
export const dragWords = (words: (id: string) => string): Announcements => ({
  onDragStart: ({ active }) => `Moving ${words(String(active.id))}.`,
  onDragOver: () => undefined,
  onDragEnd: ({ over }) => (over ? 'Moved.' : 'Not moved.'),
  onDragCancel: () => 'Not moved.',
});
