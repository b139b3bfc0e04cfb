import { DEVICE_KINDS, type DeviceKind, GENERIC, kindOfProfile } from '@umbek/core/devices';
import { SAMPLE_PROFILES } from '@umbek/core/samples';
import { demoStandins } from '@umbek/demo';
import { type Field, fieldsOf } from '@umbek/core/programming';

/** What a stand-in adds to its protocol, where the demo's differ. */
const REMARKS: Readonly<Record<string, string>> = {
  deskCam: 'answers a sequence number seen before with "not expected"',
  lawnCam: 'answers a sequence number seen before with its first answers again',
  domeCam: 'slower than the show declares it, so that rehearsal has something to be wrong about',
  sound: 'scripted voices from a seed',
  lines: 'guests join when told to at the control port',
};

const range = (field: Field): string => {
  const bounds = field.min === null && field.max === null ? '' : ` ${field.min ?? '…'} to ${field.max ?? '…'}`;
  const start = field.start === null ? '' : `, ${String(field.start)} when left out`;
  return field.choices.length > 0
    ? `one of ${field.choices.join(', ')}${start}`
    : `${field.type}${bounds}${field.unit === '' ? '' : ` ${field.unit}`}${start}`;
};

/** How one command is written on the wire of its kind. */
function written(kind: DeviceKind, command: string, fields: readonly Field[]): string {
  switch (kind.wire) {
    case 'osc':
      return `\`/${kind.key}/${[command, 'id', ...fields.map((field) => field.key)].join(' ')}\``;
    case 'http':
      return `\`POST /commands/${command}\` \`{ ${['id', ...fields.map((field) => field.key)].join(', ')} }\``;
    case 'visca':
    case 'swp08':
    case 'tsl':
    case 'profile':
      return `\`${[command, ...fields.map((field) => field.key)].join(' ')}\``;
  }
}

function kindPart(kind: DeviceKind): string {
  // What is told to the device as another command never reaches it under its own name.
  const ownCommands = Object.entries(kind.commands).filter(([, { sentAs }]) => sentAs === undefined);
  const commands = ownCommands.map(([key, command]) => {
    const fields = fieldsOf(command);
    return `| ${written(kind, key, fields)} | ${command.words} | ${fields.map((field) => `${field.key}: ${range(field)}`).join('; ')} |`;
  });
  const points = Object.keys({ ...kind.points, ...kind.pointsFor?.(kind.settings.parse({})) });
  const shown = points.slice(0, 24).map((key) => `\`${key}\``);
  const simulations = Object.entries(kind.simulations ?? {}).map(
    ([key, item]) => `\`${key}\` (${item.words.toLowerCase()})`,
  );
  return [
    `### ${kind.words}: ${kind.protocol}`,
    '',
    ...(commands.length === 0
      ? ['It takes no commands.', '']
      : ['| command | does | parameters |', '|---|---|---|', ...commands, '']),
    ...(points.length === 0
      ? []
      : [
          `Points: ${shown.join(', ')}${points.length > shown.length ? ` and ${points.length - shown.length} more of the same form` : ''}.`,
          '',
        ]),
    ...(simulations.length === 0
      ? []
      : [`Bad days at the control port, \`POST /simulate { what }\`: ${simulations.join(', ')}.`, '']),
  ].join('\n');
}

/** Devices behind the sample profiles say nothing of ours: their own words. */
const SAMPLES = `### House lights: plain OSC, a sample profile

\`/area/<1–4>/level ,f <0–1>\` sets an area, \`/dark\` all of them; \`/levels\` and every other message is answered with \`/area/<n>/level ,f\` for each area.

### Dome slit: lines over TCP, a sample profile

Lines end with CR LF. \`SLIT <0–100>\` opens the slit so far, \`HALT\` stops it, \`STATE?\` asks; each is answered \`SLIT=<percent> MOTOR=RUN\` or \`MOTOR=STAND\`, anything else \`ERR\`. The whole way takes 4 s.
`;

/** docs/standins.md as a whole, from the declarations of the kinds and the demo. */
export function standinsDocs(): string {
  const transport = { visca: 'UDP', osc: 'UDP', http: 'TCP', swp08: 'TCP', tsl: 'UDP', profile: 'UDP or TCP' } as const;
  const rows = demoStandins().map((standin) => {
    const profile = SAMPLE_PROFILES[standin.settings.profile === 'domeSlit' ? 1 : 0];
    const kind = standin.kind === GENERIC && profile ? kindOfProfile(profile) : DEVICE_KINDS[standin.kind];
    const remark = REMARKS[standin.key];
    return `| ${standin.name} | ${kind?.words ?? standin.kind} | ${standin.port} ${kind === undefined ? '' : kind.wire === 'profile' ? (standin.settings.profile === 'domeSlit' ? 'TCP' : 'UDP') : transport[kind.wire]} | ${standin.port + 1000} | ${kind?.protocol ?? ''}${remark === undefined ? '' : `; ${remark}`} |`;
  });
  return `# Stand-ins

Made by \`npm run docs\` from the declarations of the kinds; a test holds it to them.

A stand-in is a device's model behind a real socket on loopback. \`npm start\` runs one process for each camera, the switcher and the captions, and
one for the rack of machines.

| stand-in | kind | device port | control port (HTTP) | speaks |
|---|---|---|---|---|
${rows.join('\n')}

## Control port

- \`GET /report\`: its points, every command that had its effect (when, from whom, under which id), and how many messages it did not understand.
- \`GET /records\`: the last 50,000 messages in and out with what became of them: hex of datagrams and streams, text of HTTP.
- \`POST /faults\` \`{ dropIn, dropOut, doubleIn, doubleOut, delayMs, silent, refuse, seed }\`: chances from 0 to 1, drawn from the seed. An empty object is a good day.
- \`POST /simulate\` \`{ what }\`: what no controller asks for, such as a recorder that stops by itself.
- \`POST /clear\`: forgets the records.

## OSC with request ids

OSC itself has no replies, and a datagram that comes twice would cut twice. So:

| message | means |
|---|---|
| \`/switcher/preview ,si id 2\` | a command: the request id first, then its parameters in the order of their declaration |
| \`/ok ,s id\`, \`/refused ,ss id why\` | its answer; the same id again gets the same answer and does nothing |
| \`/switcher/ping ,s id\` → \`/pong ,si id n\` | heartbeat; n is the number of the latest state; states are sent for five seconds more |
| \`/switcher/state/program ,if n 4\` | a state with its running number; a number that is missing makes the driver read again |
| \`/switcher/read ,s id\` | every state in one bundle, closed by \`/ok\` |

## HTTP with JSON

| request | answer |
|---|---|
| \`GET /state\` | \`{ device, number, points }\` |
| \`GET /alive\` | \`{ device, number }\`: heartbeat, with the number of the latest change |
| \`GET /events\` | server-sent events \`{ number, point, value }\`; a number that is missing makes the driver read again |
| \`POST /commands/<command>\` \`{ id, … }\` | \`{ outcome: "done" }\`, or 409 \`{ outcome: "refused", why }\`; done once for each id |

## SW-P-08

Interrogate, connect, tally, connected, dumps of crosspoints and of protections, protect and unprotect; every frame is acknowledged. A change is told
to every controller. A connect to a protected destination is answered with its protection. Destinations and sources count from 0 on the wire, from 1 everywhere else.

## VISCA over IP

Recall, store, drive, absolute position, home, zoom (drive, direct, stop), focus and exposure mode, focus and iris direct, white balance, power, tally lamp, cancel;
inquiries for pan and tilt, zoom, power, focus, iris, white balance and the two modes; acknowledgement, completion and errors. Two
sockets; a sequence number of a sender is carried out once; the control command sets the numbers back.

## TSL UMD 5.0

Packets of displays: number is the switcher's input, text the source's name, every lamp red on program (both pictures during a mix), green on preview. Told on every
change and once a second; the protocol has no answers, so "reached" means that nothing reports a closed port.

## The kinds

${Object.values(DEVICE_KINDS)
  .filter((kind) => kind.key !== GENERIC)
  .map(kindPart)
  .join('\n')}
${SAMPLES}`;
}
