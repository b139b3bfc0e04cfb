import type { Edit } from '@umbek/core/show';

const KEY = 'umbek.edits';

/** Edits of this tab that no engine has answered: they outlive a reload of the page. */
export function keptEdits(): Edit[] {
  try {
    const kept: unknown = JSON.parse(window.sessionStorage.getItem(KEY) ?? '[]');
    return Array.isArray(kept) ? (kept as Edit[]) : [];
  } catch {
    return [];
  }
}

export function keepEdits(edits: readonly Edit[]): void {
  try {
    if (edits.length === 0) window.sessionStorage.removeItem(KEY);
    else window.sessionStorage.setItem(KEY, JSON.stringify(edits));
  } catch {
    // A browser that keeps nothing, or an import too large for it: the edits wait in the page alone.
  }
}
