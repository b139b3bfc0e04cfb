import * as api from '@umbek/protocol';
import { ProfileFile } from '@umbek/core/show';
import { z } from 'zod';

/** One route: what goes in and what comes out. Handlers and the OpenAPI document both come from here. */
export interface RouteSpec {
  readonly summary: string;
  readonly body?: z.ZodType;
  readonly query?: z.ZodObject;
  readonly reply: z.ZodType;
  /** Status of an answer that is no refusal; 200 unless told otherwise. */
  readonly status?: number;
  /** Bodies up to this size in place of 1 MB. */
  readonly largest?: string;
  /** What a station must have been given for it; *see* where nothing is told, which only what changes nothing may leave out. */
  readonly needs?: api.Right;
  /** Asked with a bearer token, and refused without before anything is read. */
  readonly token?: true;
  /** Asked by devices that have not been let in yet. */
  readonly open?: true;
  /** The handler looks at the body itself: it may be of an earlier version. */
  readonly raw?: true;
}

const Empty = z.object({});
const Anything = z.looseObject({});
const Pages = z.looseObject({});

/** Every route by method and path; a name in braces is a part of the path. */
export const ROUTES = {
  'GET /api/health': { summary: 'State of the show, its devices, the disk and the database', reply: api.Health },
  'POST /api/press': {
    needs: 'operate',
    summary: 'One phase of a press',
    body: api.PressBody,
    reply: api.PressReply,
    status: 202,
  },
  'POST /api/send': {
    needs: 'operate',
    summary: 'A command without a button',
    body: api.SendBody,
    reply: api.PressReply,
    status: 202,
  },
  'POST /api/try': {
    needs: 'operate',
    summary: 'One step of a button alone',
    body: api.TryBody,
    reply: api.PressReply,
    status: 202,
  },
  'GET /api/devices/{key}/messages': {
    summary: 'The last messages from and to a device',
    query: z.object({ heartbeats: z.enum(['true', 'false']).optional() }),
    reply: api.MessagesReply,
  },
  'GET /api/devices/{key}/points': { summary: 'What is known of a device', reply: api.PointsReply },
  'GET /api/devices/{key}/travel': {
    summary: 'Real recalls of a head beside what is predicted, and the limits learned from them',
    reply: api.TravelReply,
  },
  'POST /api/devices/{key}/reserve': {
    needs: 'program',
    summary: 'Reserve a head, or free it again',
    body: api.ReserveBody,
    reply: Empty,
  },
  'POST /api/devices/{key}/travel/forget': {
    needs: 'program',
    summary: 'Forget what was learned of a head',
    reply: Empty,
  },
  'GET /api/devices/{key}/files/{file}': { summary: 'A finished file of a recorder, as bytes', reply: z.unknown() },
  'POST /api/lamps/try': {
    needs: 'operate',
    summary: 'Show a lamp of a button on every station for a moment',
    body: api.TryLampBody,
    reply: Empty,
    status: 202,
  },
  'GET /api/shows': { summary: 'Shows of this installation', reply: api.ShowsReply },
  'POST /api/shows': {
    needs: 'program',
    summary: 'Make a show, without opening it',
    body: api.NewShowBody,
    reply: api.ShowsReply,
    status: 201,
  },
  'POST /api/shows/{id}/open': {
    needs: 'program',
    summary: 'Open another show; the present one is put away as it is',
    body: api.OpenShowBody,
    reply: api.ReplacedReply,
  },
  'POST /api/shows/{id}/name': {
    needs: 'program',
    summary: 'Rename a show that is not open',
    body: api.ShowNameBody,
    reply: api.ShowsReply,
  },
  'DELETE /api/shows/{id}': { needs: 'program', summary: 'Delete a show that is not open', reply: api.ShowsReply },
  'GET /api/buttons.csv': { summary: 'All buttons as CSV', reply: z.unknown() },
  'GET /api/buttons.html': { summary: 'All buttons as a page to be printed', reply: z.unknown() },
  'GET /api/take-back': {
    summary: 'What taking the last press of a station back would do; null when there is nothing to take back',
    query: api.TakeBackQuery,
    reply: z.object({ back: api.TakeBackReply.nullable() }),
  },
  'GET /api/panels': { summary: 'Panels with their strips and buttons', reply: api.PanelsReply },
  'POST /api/rehearse': {
    needs: 'see',
    summary: 'What a button or macro will do, without sending anything',
    body: api.RehearseBody,
    reply: api.RehearseReply,
  },
  'GET /api/triggers': { summary: 'Triggers in their order, with what each does now', reply: api.TriggersReply },
  'GET /api/triggers/{id}': { summary: 'A trigger with its last events', reply: api.TriggerReply },
  'POST /api/triggers/arm': {
    needs: 'operate',
    summary: 'Arm or disarm several triggers, or all',
    body: api.ArmManyBody,
    reply: api.ArmManyReply,
  },
  'POST /api/triggers/{id}/arm': {
    needs: 'operate',
    summary: 'Arm or disarm a trigger; what a while rule holds is taken back',
    body: api.ArmBody,
    reply: api.TriggerRow,
  },
  'POST /api/triggers/{id}/fire': {
    needs: 'operate',
    summary: 'Fire a trigger by hand, or rehearse it',
    body: api.FireBody,
    reply: Anything,
  },
  'GET /api/why': {
    summary: 'Why something is as it is, the newest cause first',
    query: api.WhyQuery,
    reply: api.WhyReply,
  },
  'GET /api/as-run': { summary: 'What really happened, oldest first', query: api.AsRunQuery, reply: api.AsRunReply },
  'GET /api/log': { summary: 'The as-run, newest first, with filters', query: api.LogQuery, reply: api.AsRunReply },
  'GET /api/runs': { summary: 'Runs under way', reply: api.RunsReply },
  'GET /api/runs/{runId}': { summary: 'A run beside its rehearsal', reply: api.RunReply },
  'POST /api/runs/{runId}/stop': {
    needs: 'operate',
    summary: 'Stop a run; its stop steps follow',
    body: api.StopRunBody,
    reply: Empty,
    status: 202,
  },
  'POST /api/runs/{runId}/answer': {
    needs: 'operate',
    summary: 'Answer the question that a run waits for',
    body: api.AnswerBody,
    reply: Empty,
    status: 202,
  },
  'POST /api/runs/{runId}/next': {
    needs: 'operate',
    summary: 'Begin the next step of a run that is stepped through',
    body: api.NextBody,
    reply: Empty,
    status: 202,
  },
  'POST /api/steps/run': {
    needs: 'operate',
    summary: 'Run steps that belong to nothing of the show',
    body: api.RunStepsBody,
    reply: api.PressReply,
    status: 202,
  },
  'GET /api/stop-all': { summary: 'What stopping everything now would do', reply: api.StopAheadReply },
  'POST /api/stop-all': {
    needs: 'operate',
    summary: 'End runs, release what is held, stop heads; program, captions and recordings stay',
    body: api.StopAllBody,
    reply: api.StopAllReply,
  },
  'POST /api/show/begin': {
    needs: 'operate',
    summary: 'The show begins: values that say so go back to their start',
    body: api.BeginShowBody,
    reply: api.BeginShowReply,
  },
  'GET /api/show/faults': { summary: 'What of the show does not hold together', reply: api.FaultsReply },
  'POST /api/edits': {
    needs: 'program',
    summary: 'Change the show: all or nothing',
    body: api.EditBody,
    reply: api.EditReply,
  },
  'GET /api/edits': {
    summary: 'The last 200 edits, newest first',
    query: z.object({ by: z.string().max(120).optional() }),
    reply: api.HistoryReply,
  },
  'GET /api/edits/{editId}/back': {
    summary: 'What would take the show back to where it was after an edit',
    reply: api.BackReply,
  },
  'POST /api/tonight': {
    needs: 'program',
    summary: 'From here on edits can be dropped as one, or no longer',
    body: api.TonightBody,
    reply: api.EditReply,
  },
  'POST /api/undo': {
    needs: 'program',
    summary: "Undo a person's last edit",
    body: api.UndoBody,
    reply: api.EditReply,
  },
  'POST /api/redo': {
    needs: 'program',
    summary: 'Redo what was undone last',
    body: api.UndoBody,
    reply: api.EditReply,
  },
  'GET /api/versions': { summary: 'Kept versions, newest first', reply: api.VersionsReply },
  'POST /api/versions': {
    needs: 'program',
    summary: 'Keep the show as it is now under a name',
    body: api.VersionBody,
    reply: api.VersionsReply,
    status: 201,
  },
  'GET /api/versions/{id}': { summary: 'A kept version with its show', reply: api.VersionReply },
  'GET /api/versions/{id}/file': { summary: 'A kept version as a show file', reply: api.ShowFile },
  'DELETE /api/versions/{id}': { needs: 'program', summary: 'Delete a version', reply: api.VersionsReply },
  'GET /api/profiles/schema.json': { summary: 'What a profile file may hold, as JSON Schema', reply: Anything },
  'POST /api/profiles/check': {
    needs: 'see',
    summary: 'Whether a profile holds together, with every fault and its path',
    body: ProfileFile,
    reply: api.ProfileCheckReply,
  },
  'GET /api/profiles/{key}/file': { summary: 'A profile of the show as a file', reply: ProfileFile },
  'GET /api/standins': { summary: 'Stand-ins of this machine and what is wrong with them', reply: api.StandinsReply },
  'POST /api/standins/{key}/faults': {
    needs: 'program',
    summary: 'Set what goes wrong with a stand-in',
    body: api.StandinFaults,
    reply: Empty,
  },
  'POST /api/standins/{key}/simulate': {
    needs: 'program',
    summary: 'Make a stand-in do what no controller asks for',
    body: api.SimulateBody,
    reply: Empty,
  },
  'GET /api/show/desk': {
    summary: 'The show as a station needs it that operates these panels; the first panel when none is named',
    query: z.object({ panels: z.string().max(4000).optional().meta({ description: 'Ids, with commas between.' }) }),
    reply: api.DeskReply,
  },
  'GET /api/panels/{panelId}/file': {
    summary: 'A panel as a file, or some of its strips, with what they need of another show',
    query: z.object({ strips: z.string().max(6000).optional().meta({ description: 'Ids, with commas between.' }) }),
    reply: Anything,
  },
  'GET /api/macros/file': {
    summary: 'Macros as a file, with what they need of another show',
    query: z.object({ ids: z.string().max(20_000).meta({ description: 'Ids, with commas between.' }) }),
    reply: Anything,
  },
  'GET /api/panels/schema.json': {
    summary: 'What a file of buttons, strips or a panel may hold, as JSON Schema',
    reply: Anything,
  },
  'GET /api/people': {
    summary: 'People of the list in whom every word of the search is found, in the order of the list',
    query: z.object({ search: z.string().max(200).optional() }),
    reply: api.PeopleReply,
  },
  'POST /api/run': {
    summary: 'Run a button or a macro from other gear',
    body: api.RunBody,
    reply: api.PressReply,
    status: 202,
    token: true,
  },
  'GET /api/stations': {
    summary: 'Stations of the show and pages that act as none of them: who is there, and what each shows',
    reply: api.StationsReply,
  },
  'POST /api/stations/{id}/show': {
    needs: 'operate',
    summary: 'Have a station show another panel',
    body: api.StationShowBody,
    reply: Empty,
    status: 202,
  },
  'POST /api/stations/{id}/flash': {
    needs: 'operate',
    summary: 'Have a station show its name for a moment',
    body: Empty,
    reply: Empty,
    status: 202,
  },
  'GET /api/found': { summary: 'Devices that announce themselves on the network', reply: api.FoundReply },
  'POST /api/pads/place': {
    needs: 'program',
    summary: 'Give a pad its place: the station that it acts as, also when it is plugged in again',
    body: api.PadPlaceBody,
    reply: Empty,
  },
  'GET /api/me': { summary: 'Who asks, and what it may do', reply: api.MeReply },
  'POST /api/join': {
    summary: 'Ask to be let in, with six figures or what a QR code carries',
    body: api.JoinBody,
    reply: api.JoinReply,
    status: 202,
    open: true,
  },
  'POST /api/join/wait': {
    summary: 'What became of it; the key of the station is told this once',
    body: api.JoinWaitBody,
    reply: api.JoinWaitReply,
    open: true,
  },
  'GET /api/crew': { summary: 'People who work here, by name', reply: api.CrewReply },
  'POST /api/crew': {
    needs: 'admit',
    summary: 'Take somebody on, or change their name, rights or pass phrase',
    body: api.CrewBody,
    reply: api.CrewReply,
  },
  'DELETE /api/crew/{id}': {
    needs: 'admit',
    summary: 'Delete somebody of the crew; they are signed in nowhere any more',
    reply: api.CrewReply,
  },
  'POST /api/me/sign-in': {
    needs: 'see',
    summary: 'Sign in at the station that asks, with a pass phrase',
    body: api.SignInBody,
    reply: api.MeReply,
  },
  'POST /api/me/sign-out': { needs: 'see', summary: 'Sign out at the station that asks', reply: api.MeReply },
  'POST /api/hand-over': {
    needs: 'program',
    summary: 'Hand the edits of one engineer over to another one, who can undo them from then on',
    body: api.HandOverBody,
    reply: api.HandOverReply,
  },
  'POST /api/stations/{id}/hand-over': {
    needs: 'admit',
    summary: 'Hand a station to somebody, with the edits of whoever worked at it',
    body: api.StationHandBody,
    reply: api.HandOverReply,
  },
  'GET /api/joining': {
    needs: 'admit',
    summary: 'How devices join, those that ask to be let in, and the stations that were',
    reply: api.JoiningReply,
  },
  'POST /api/invitations': {
    needs: 'admit',
    summary: 'Six figures and a QR code, good once and for two minutes',
    body: Empty,
    reply: api.InvitationReply,
    status: 201,
  },
  'DELETE /api/invitations/{id}': { needs: 'admit', summary: 'Take an invitation back', reply: Empty },
  'POST /api/joining/{id}': {
    needs: 'admit',
    summary: 'Let a device in that asks for it, or not',
    body: api.JoinAnswerBody,
    reply: api.JoiningReply,
  },
  'POST /api/joined/{id}': {
    needs: 'admit',
    summary: 'Give a station that was let in another name, person or other rights',
    body: api.JoinedBody,
    reply: api.JoiningReply,
  },
  'DELETE /api/joined/{id}': { needs: 'admit', summary: 'Send a station away', reply: api.JoiningReply },
  'GET /api/run/{token}': {
    summary: 'Run the one button or macro of a link, for gear that can only open an address',
    reply: api.PressReply,
    status: 202,
    token: true,
  },
  'GET /api/tokens': {
    needs: 'admit',
    summary: 'Tokens by which other gear runs buttons and macros',
    reply: api.TokensReply,
  },
  'POST /api/tokens': {
    needs: 'admit',
    summary: 'Make a token; it is told this once',
    body: api.NewTokenBody,
    reply: api.NewTokenReply,
    status: 201,
  },
  'DELETE /api/tokens/{id}': { needs: 'admit', summary: 'Revoke a token', reply: api.TokensReply },
  'GET /api/dial': {
    summary: 'What a code on a dial pad runs',
    query: api.DialQuery,
    reply: api.DialReply,
  },
  'GET /api/shortcuts': {
    summary: 'What runs a button or macro from outside the panels',
    reply: api.ShortcutsReply,
  },
  'GET /api/shortcuts.csv': { summary: 'All shortcuts as CSV', reply: z.unknown() },
  'GET /api/shortcuts.html': { summary: 'All shortcuts as a page to be printed', reply: z.unknown() },
  'GET /api/show': { summary: 'The show with its revision', reply: Anything },
  'POST /api/show': {
    needs: 'program',
    summary: 'Put a show file in place of the show',
    body: api.ShowFile,
    reply: api.ReplacedReply,
    largest: '20mb',
    raw: true,
  },
  'GET /api/show/file': { summary: 'The show as a file', reply: api.ShowFile },
  'GET /api/show/schema.json': { summary: 'What a show file may hold, as JSON Schema', reply: Anything },
  'POST /api/show/reset': {
    needs: 'program',
    summary: 'Begin with the demo show, or with nothing',
    body: api.ResetBody,
    reply: api.ReplacedReply,
  },
  'POST /api/show/bring-back': {
    needs: 'program',
    summary: 'Bring the replaced show back',
    body: Empty,
    reply: api.ReplacedReply,
  },
  'GET /api/kinds': { summary: 'The kinds of device with their commands, points and settings', reply: Pages },
  'GET /api/openapi.json': { summary: 'This document', reply: Anything },
} as const satisfies Record<string, RouteSpec>;

export type RouteKey = keyof typeof ROUTES;
