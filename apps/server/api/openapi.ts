import * as api from '@umbek/core/api';
import { ProfileFile } from '@umbek/core/show';
import { z } from 'zod';
import { createDocument, type ZodOpenApiOperationObject } from 'zod-openapi';

const json = (schema: z.ZodType) => ({ content: { 'application/json': { schema } } });
const reply = (description: string, schema: z.ZodType) => ({ description, ...json(schema) });
const refusals = {
  '400': reply('Malformed: the path tells where, the mend what to do.', api.ErrorReply),
  '404': reply('No such thing.', api.ErrorReply),
  '409': reply('Not at present: a device is silent, or somebody changed the field.', api.ErrorReply),
  '413': reply('The body is over 1 MB.', api.ErrorReply),
};

const get = (summary: string, schema: z.ZodType, more: Partial<ZodOpenApiOperationObject> = {}) => ({
  get: { summary, responses: { '200': reply(summary, schema), ...refusals }, ...more },
});
const post = (summary: string, body: z.ZodType, schema: z.ZodType, status = '200') => ({
  post: { summary, requestBody: json(body), responses: { [status]: reply(summary, schema), ...refusals } },
});

/** The API as OpenAPI 3.1, derived from the schemas that the routes check with. */
export const openApiDocument = (version: string): object =>
  createDocument({
    openapi: '3.1.0',
    info: {
      title: 'Umbek',
      version,
      description: 'Control panels for live broadcast. Presses are also taken over the live socket at /api/live.',
    },
    paths: {
      '/api/health': get('State of the show, its devices and the database', api.Health),
      '/api/press': post('One phase of a press', api.PressBody, api.PressReply, '202'),
      '/api/panels': get('Panels with their strips and buttons', api.PanelsReply),
      '/api/rehearse': post(
        'What a button or macro will do, without sending anything',
        api.RehearseBody,
        api.RehearseReply,
      ),
      '/api/as-run': get('What really happened, oldest first', api.AsRunReply, {
        requestParams: { query: api.AsRunQuery },
      }),
      '/api/runs': get('Runs under way', api.RunsReply),
      '/api/runs/{runId}': get('A run beside its rehearsal', api.RunReply, {
        requestParams: { path: z.object({ runId: z.string() }) },
      }),
      '/api/runs/{runId}/stop': {
        post: {
          summary: 'Stop a run; its stop steps follow',
          requestParams: { path: z.object({ runId: z.string() }) },
          requestBody: json(api.StopRunBody),
          responses: { '202': { description: 'Stopping' }, ...refusals },
        },
      },
      '/api/steps/run': post('Run steps that belong to nothing of the show', api.RunStepsBody, api.PressReply, '202'),
      '/api/stop-all': post(
        'End runs, release what is held, stop heads; program, captions and recordings stay',
        api.StopAllBody,
        api.StopAllReply,
      ),
      '/api/send': post('A command without a button', api.SendBody, api.PressReply, '202'),
      '/api/try': post('One step of a button alone', api.TryBody, api.PressReply, '202'),
      '/api/log': get('The as-run, newest first, with filters', api.AsRunReply, {
        requestParams: { query: api.LogQuery },
      }),
      '/api/devices/{key}/points': get('What is known of a device', api.PointsReply, {
        requestParams: { path: z.object({ key: z.string() }) },
      }),
      '/api/devices/{key}/travel': get(
        'Real recalls of a head beside what is predicted, and the limits learned from them',
        api.TravelReply,
        { requestParams: { path: z.object({ key: z.string() }) } },
      ),
      '/api/devices/{key}/messages': get('The last messages from and to a device', api.MessagesReply, {
        requestParams: {
          path: z.object({ key: z.string() }),
          query: z.object({ heartbeats: z.enum(['true', 'false']).optional() }),
        },
      }),
      '/api/profiles/check': post(
        'Whether a profile holds together, with every fault and its path',
        ProfileFile,
        api.ProfileCheckReply,
      ),
      '/api/profiles/{key}/file': get('A profile of the show as a file', ProfileFile, {
        requestParams: { path: z.object({ key: z.string() }) },
      }),
      '/api/standins': get('Stand-ins of this machine and what is wrong with them', api.StandinsReply),
      '/api/standins/{key}/faults': {
        post: {
          ...post('Set what goes wrong with a stand-in', api.StandinFaults, z.object({})).post,
          requestParams: { path: z.object({ key: z.string() }) },
        },
      },
      '/api/standins/{key}/simulate': {
        post: {
          ...post('Make a stand-in do what no controller asks for', api.SimulateBody, z.object({})).post,
          requestParams: { path: z.object({ key: z.string() }) },
        },
      },
      '/api/edits': {
        ...post('Change the show: all or nothing', api.EditBody, api.EditReply),
        ...get('The last 200 edits, newest first', api.HistoryReply, {
          requestParams: { query: z.object({ by: z.string().optional() }) },
        }),
      },
      '/api/undo': post("Take an engineer's last edit back", api.UndoBody, api.EditReply),
      '/api/redo': post('Do again what was taken back last', api.UndoBody, api.EditReply),
      '/api/versions': {
        ...post('Keep the show as it is now under a name', api.VersionBody, api.VersionsReply, '201'),
        ...get('Kept versions, newest first', api.VersionsReply),
      },
      '/api/versions/{id}': {
        ...get('A kept version with its show', api.VersionReply, {
          requestParams: { path: z.object({ id: z.string() }) },
        }),
        delete: {
          summary: 'Let a version go',
          requestParams: { path: z.object({ id: z.string() }) },
          responses: { '200': reply('What is left', api.VersionsReply), ...refusals },
        },
      },
      '/api/versions/{id}/file': get('A kept version as a show file', api.ShowFile, {
        requestParams: { path: z.object({ id: z.string() }) },
      }),
      '/api/show': post('Put a show file in place of the show', api.ShowFile, api.ReplacedReply),
      '/api/show/file': get('The show as a file', api.ShowFile),
      '/api/show/reset': post('Begin with the demo show, or with nothing', api.ResetBody, api.ReplacedReply),
      '/api/show/bring-back': post('Bring the replaced show back', z.object({}), api.ReplacedReply),
    },
  });
