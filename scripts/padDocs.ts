import {
  PAD_PROTOCOL,
  PadAnswer,
  PadCap,
  PadCaps,
  PadDown,
  PadError,
  PadFlash,
  PadHello,
  PadHold,
  PadShift,
  PadTaken,
  PadTime,
  PadTold,
  PadUp,
  PadWelcome,
} from '@umbek/protocol';
import { z } from 'zod';

interface JsonSchema {
  readonly type?: string | readonly string[];
  readonly const?: unknown;
  readonly enum?: readonly unknown[];
  readonly anyOf?: readonly JsonSchema[];
  readonly items?: JsonSchema;
  readonly properties?: Readonly<Record<string, JsonSchema>>;
  readonly required?: readonly string[];
  readonly description?: string;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly maxLength?: number;
  readonly default?: unknown;
}

const schemaOf = (schema: z.ZodType): JsonSchema =>
  z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) as JsonSchema;

function kindOf(schema: JsonSchema): string {
  if (schema.const !== undefined) return `\`${JSON.stringify(schema.const)}\``;
  if (schema.enum !== undefined) return schema.enum.map((item) => `\`${JSON.stringify(item)}\``).join(', ');
  if (schema.anyOf !== undefined) return schema.anyOf.map(kindOf).join(' or ');
  if (schema.type === 'array')
    return `list of ${schema.items?.properties === undefined ? kindOf(schema.items ?? {}) : 'caps'}`;
  if (schema.type === 'object' && schema.properties !== undefined)
    return `{ ${Object.entries(schema.properties)
      .map(([name, item]) => `${name}: ${kindOf(item)}`)
      .join(', ')} }`;
  const range =
    schema.minimum !== undefined && schema.maximum !== undefined && schema.maximum < 1e9
      ? ` ${schema.minimum} to ${schema.maximum}`
      : schema.maxLength === undefined
        ? ''
        : `, ${schema.maxLength} characters at most`;
  return `${String(schema.type ?? 'anything')}${range}`;
}

function table(schema: z.ZodType): string {
  const { properties = {}, required = [] } = schemaOf(schema);
  const rows = Object.entries(properties).map(([name, item]) => {
    const may = required.includes(name) ? '' : ' (may be left out)';
    return `| \`${name}\` | ${kindOf(item)}${may} | ${item.description ?? ''} |`;
  });
  return ['| Field | Holds | |', '|---|---|---|', ...rows].join('\n');
}

const part = (schema: z.ZodType): string => {
  const { properties = {}, description = '' } = schemaOf(schema);
  return `### \`${String(properties.type?.const)}\`\n\n${description}\n\n${table(schema)}`;
};

/** The protocol of pads as a document, from its declarations: whoever writes the program of a pad needs nothing else. */
export function padDocs(): string {
  return `# Pads with keys: the protocol, version ${PAD_PROTOCOL}

<!-- Made by npm run docs from packages/protocol/pads.ts. -->

Any device with keys, with displays in them or without, works as a pad of Umbek by a small program that speaks this protocol. The pad shows the
caps of a panel and passes touches on; what a cap says, and what a touch does, is Umbek's matter. \`examples/pad.mjs\` is such a program.

## Connecting

Open a WebSocket to \`/api/pad\` of Umbek: \`ws://127.0.0.1:4400/api/pad\` on its own machine. In the room it is \`wss://\` at the port that
\`npm start -- --room\` tells, with \`Authorization: Bearer <key>\`, the key of a station that was let in; the right to operate is the station's.
Send no \`Origin\`. Each message is one JSON object in a text frame. Pass over messages and fields that you do not know: they may be added without
the version counting up. Send none that do not stand here: they are refused.

A pad of the room is let in like any other device, over HTTPS: \`POST /api/join\` with \`{ "code": "<six figures>", "name": "<name>" }\` is answered
\`202\` with \`{ "id", "secret" }\`; the same body to \`POST /api/join/wait\`, once a second, is answered \`{ "state": "waiting" }\` until somebody says
yes, and then once \`{ "state": "in", "key" }\`. Keep the key where nobody else reads it. The certificate's authority is at \`/join\`.

1. Send \`hello\`. A pad whose version is another one is told so and let go.
2. \`welcome\` comes, then every key in \`caps\`, in one message or several.
3. A pad that was never here has no place: its keys are empty, and it stands in the list under Rig, Stations. There somebody has it show its
   name, and tells which station of the show it is. By its serial number it keeps that place when it is plugged in again.
4. When the connection ends, whatever the pad held is let go. Clear the keys, and connect again after a second: what the keys showed may not be
   true any more.

## Touches

Make a ULID for each touch. Send \`down\` at once, \`hold\` every 100 ms while the finger stays, \`up\` when it lifts. Never send a touch later: if
the connection was away when the finger came, drop it. The key belongs to what it showed when the finger came down; should the page turn
meanwhile, \`up\` still ends the same touch.

## What the pad sends

${[PadHello, PadDown, PadHold, PadUp, PadShift, PadTime].map(part).join('\n\n')}

## What Umbek sends

${[PadWelcome, PadCaps].map(part).join('\n\n')}

Each of the \`caps\`:

${table(PadCap)}

${[PadAnswer, PadTaken, PadFlash, PadTold, PadError].map(part).join('\n\n')}

## Limits

A message has 64 kB at most; 300 messages a second are taken, 600 at once. A pad that lags by 500 kB is told nothing new until it has caught up,
and then what is so by then.
`;
}
