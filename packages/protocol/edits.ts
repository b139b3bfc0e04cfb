/** Edits, undo, versions and show files. */
import { z } from 'zod';
import { Change, Edit, Reference, SHOW_VERSION, ShowDocument } from '@umbek/core/show';

export const BeginShowBody = z
  .strictObject({ station: z.string().min(1).max(120), person: z.string().max(120).optional() })
  .meta({ id: 'BeginShow' });

export const BeginShowReply = z.object({
  reset: z.number().meta({ description: 'Values that went back to their start.' }),
});

export const EditReply = z
  .object({
    revision: z.number(),
    kept: z
      .array(z.string())
      .default([])
      .meta({ description: 'What an undo left alone, because it was changed since.' }),
    label: z.string().default(''),
    faults: z
      .array(z.object({ message: z.string(), mend: z.string(), at: Reference }))
      .default([])
      .meta({ description: 'What keeps the entries that it touched from doing what they say.' }),
  })
  .meta({ id: 'EditTaken' });

export const EditBody = Edit.meta({ id: 'Edit' });

export const UndoBody = z.strictObject({ by: z.string().max(120) }).meta({ id: 'Undo' });

export const HistoryReply = z
  .object({
    entries: z.array(
      z.object({
        editId: z.string(),
        revision: z.number(),
        label: z.string(),
        by: z.string().meta({ description: 'Who made it.' }),
        handedTo: z.string().optional().meta({ description: 'To whom it was handed over, whose undo takes it back.' }),
        at: z.string(),
        kind: z.enum(['edit', 'undo', 'redo', 'tonight', 'tonightOver', 'handedOver']),
        undone: z.boolean(),
        first: Reference.nullable().meta({ description: 'Where it changed the show first.' }),
      }),
    ),
    undo: z.string().nullable().meta({ description: 'Label of what an undo would revert; null when nothing.' }),
    redo: z.string().nullable(),
    tonight: z
      .object({ editId: z.string(), by: z.string(), at: z.string(), edits: z.number() })
      .nullable()
      .meta({ description: 'Since when edits can be kept or dropped as one, and how many there are; null when not.' }),
  })
  .meta({ id: 'History' });

export type HistoryReply = z.infer<typeof HistoryReply>;

export const BackReply = z
  .object({
    label: z.string().meta({ description: 'Of the edit that is gone back to.' }),
    at: z.string(),
    edits: z.number().meta({ description: 'So many edits came after it.' }),
    changes: z.array(Change),
  })
  .meta({ id: 'Back', description: 'The changes that would take the show back to where it was after an edit.' });

export type BackReply = z.infer<typeof BackReply>;

export const TonightBody = z
  .strictObject({ editId: z.ulid(), what: z.enum(['begin', 'end']), by: z.string().max(120).default('') })
  .meta({ id: 'Tonight' });

export const VersionBody = z
  .strictObject({ id: z.ulid(), name: z.string().trim().min(1).max(120), by: z.string().max(120).default('') })
  .meta({ id: 'NewVersion', description: 'Keeps the show as it is now under a name.' });

const versionEntry = { id: z.string(), name: z.string(), by: z.string(), at: z.string() };

export const VersionsReply = z
  .object({ versions: z.array(z.object(versionEntry)) })
  .meta({ id: 'Versions', description: 'Newest first.' });

export type VersionsReply = z.infer<typeof VersionsReply>;

export const VersionReply = z.object({ ...versionEntry, document: ShowDocument }).meta({ id: 'Version' });

export type VersionReply = z.infer<typeof VersionReply>;

/** What an exported show is, as a file. */
export const SHOW_FILE_VERSION = SHOW_VERSION;

export const ShowFile = z
  .strictObject({
    format: z.literal('umbek-show'),
    version: z.literal(SHOW_FILE_VERSION),
    savedAt: z.string().max(40),
    document: ShowDocument,
  })
  .meta({ id: 'ShowFile', description: 'A whole show as a file.' });

export const ResetBody = z.strictObject({ to: z.enum(['demo', 'empty']) }).meta({ id: 'Reset' });

export const ReplacedReply = z.object({ revision: z.number(), name: z.string() }).meta({ id: 'Replaced' });

/** Shows of this installation. */
export const ShowsReply = z
  .object({
    open: z.object({ id: z.string(), name: z.string() }),
    shows: z
      .array(
        z.object({
          id: z.string(),
          name: z.string(),
          at: z.string().meta({ description: 'When it was closed.' }),
          devices: z.number(),
          panels: z.number(),
          buttons: z.number(),
        }),
      )
      .meta({ description: 'Those that are not open, the one closed last first.' }),
  })
  .meta({ id: 'Shows' });

export type ShowsReply = z.infer<typeof ShowsReply>;

export const NewShowBody = z
  .strictObject({
    id: z.ulid(),
    name: z.string().trim().min(1).max(120),
    from: z
      .enum(['open', 'empty'])
      .meta({ description: 'A duplicate of the open show with its values at their start, or an empty one.' }),
  })
  .meta({ id: 'NewShow', description: 'Makes a show without opening it. The same id again makes nothing more.' });

export const ShowNameBody = z.strictObject({ name: z.string().trim().min(1).max(120) }).meta({ id: 'ShowName' });

export const OpenShowBody = z
  .strictObject({ station: z.string().min(1).max(120), person: z.string().max(120).optional() })
  .meta({ id: 'OpenShow' });
