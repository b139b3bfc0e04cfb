import * as api from '@umbek/protocol';
import { z } from 'zod';
import { createDocument, type ZodOpenApiOperationObject, type ZodOpenApiPathsObject } from 'zod-openapi';
import { ROUTES, type RouteSpec } from './table';

const json = (schema: z.ZodType) => ({ content: { 'application/json': { schema } } });
const reply = (description: string, schema: z.ZodType) => ({ description, ...json(schema) });
const refusals = {
  '400': reply('Malformed: the path tells where, the mend what to do.', api.ErrorReply),
  '403': reply('From a page of another origin.', api.ErrorReply),
  '404': reply('No such thing.', api.ErrorReply),
  '409': reply('Not at present: a device is silent, or somebody changed the field.', api.ErrorReply),
  '413': reply('The body is too large.', api.ErrorReply),
  '503': reply('The database does not answer.', api.ErrorReply),
};

function operationOf(path: string, spec: RouteSpec): ZodOpenApiOperationObject {
  const names = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name ?? '');
  const inPath = Object.fromEntries(names.map((name) => [name, z.string()]));
  return {
    summary: spec.summary,
    ...(names.length > 0 || spec.query
      ? {
          requestParams: {
            ...(names.length > 0 ? { path: z.object(inPath) } : {}),
            ...(spec.query ? { query: spec.query } : {}),
          },
        }
      : {}),
    ...(spec.token ? { security: [{ token: [] }] } : {}),
    ...(spec.body ? { requestBody: json(spec.body) } : {}),
    responses: {
      [String(spec.status ?? 200)]: reply(spec.summary, spec.reply),
      ...(spec.token ? { '401': reply('Without a token that is known here.', api.ErrorReply) } : {}),
      ...refusals,
    },
  };
}

/** The API as OpenAPI 3.1: every route there is, from the table that the routes are made of. */
export function openApiDocument(version: string): object {
  const paths: Record<string, Record<string, ZodOpenApiOperationObject>> = {};
  for (const [key, spec] of Object.entries(ROUTES)) {
    const [method = '', path = ''] = key.split(' ');
    paths[path] = { ...paths[path], [method.toLowerCase()]: operationOf(path, spec) };
  }
  return createDocument({
    openapi: '3.1.0',
    info: {
      title: 'Umbek',
      version,
      description: 'Control panels for live broadcast. Presses are also taken over the live socket at /api/live.',
    },
    components: { securitySchemes: { token: { type: 'http', scheme: 'bearer' } } },
    paths: paths as ZodOpenApiPathsObject,
  });
}
