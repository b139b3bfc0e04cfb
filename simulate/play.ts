import type { Change } from '@umbek/core/show';
import { entriesOfLine } from '../apps/server/journal/entry';
import { Chance } from './chance';
import { SimClient, type SimPress } from './client';
import { SimMachine } from './machine';
import { type LinkFaults, SimNet, WELL } from './net';
import { Oracle } from './oracle';
import { SimClock } from './processes';
import { hasMast, MAST, type Meant, simShow, TAKE_BACK } from './show';
import { isStepped, Stepping } from './stepped';
import { isDiscussion, MIXER, Talk } from './talk';

/** How long a show is played, virtual milliseconds, and what happens in it at the least. */
export const PLAY_MS = 120_000;
const PRESSES = 70;
const FAULTS = 8;
const EDITS = 6;
/** Presses of what alternates, or counts and is taken back. */
const TURNS = 12;
/** Values that a hand turns: one after the other, that none may take another one's place. */
const DIALS = 10;
const DIAL_EVERY_MS = 11_000;
/** Heads that two hands are on at once. */
const HANDS = 6;
/** So long after it was let go a value must be there: a queue of half a second, and a head that says it again. */
const TURNED_MS = 2500;
/** After everything is healed, so long until all must be over. */
const QUIET_MS = 20_000;

/** What one seed came to. */
export interface Played {
  readonly seed: number;
  readonly broken: readonly string[];
  /** Classes of trouble that this seed met. */
  readonly met: readonly string[];
  readonly story: readonly string[];
}

/** Every class of trouble that a batch of seeds has to have met: one that none met proves nothing. */
export const CLASSES: readonly string[] = [
  ...['visca', 'osc'].flatMap((wire) =>
    ['drop', 'double', 'delay', 'silent', 'implausible', 'babbling'].map((fault) => `${wire} ${fault}`),
  ),
  ...['http', 'swp08'].flatMap((wire) => ['delay', 'silent', 'babbling'].map((fault) => `${wire} ${fault}`)),
  'http drop',
  'http implausible',
  'lights drop',
  'slit silent',
  'kill',
  'kill while moving',
  'hang',
  'hang ended',
  'stops by the parent',
  'lease ended by itself',
  'rotation',
  'disk full',
  'database away',
  'answer of a commit lost',
  'device switched off and on',
  'port closed',
  'silent while much waits',
  'connection cut',
  'page closed while holding',
  'page lost while holding',
  'slow page',
  'address edited',
  'in turn',
  'taken back',
  'value turned',
  'rule held',
  'stepped through',
  'shot followed',
  'shot held off by a hand',
  'levels stood still',
  'hand taken',
  'head by profile moved',
  'orderly end while moving',
];

/** Plays one show. The same seed plays the same show, to the last message. */
export async function play(seed: number): Promise<Played> {
  const chance = new Chance(seed);
  const clock = new SimClock(0, new Date('2026-08-12T20:00:00Z'));
  const net = new SimNet(clock, new Chance(seed + 1_000_003));
  const show = simShow(
    chance,
    net,
    isDiscussion(seed) ? new Chance(seed + 8_000_009) : undefined,
    hasMast(seed) ? new Chance(seed + 11_000_027) : undefined,
  );
  const machine = new SimMachine(clock, net, new Chance(seed + 2_000_003), show.document);
  const everything = {
    strips: show.document.strips.map(({ id }) => id),
    scopes: ['deskCam', 'switcher', 'recorder1', 'value', 'chosen', 'onAir'],
  };
  const clients = ['desk', 'phone', 'tablet'].map((name, index) => {
    const chance = (beside: number): Chance => new Chance(seed * 7 + index + beside);
    return new SimClient(name, clock, chance(0), machine, chance(5_000_003), everything, chance(9_000_011));
  });
  const devices = new Map(show.document.devices.map((device) => [device.key, net.at(device.port)]));
  const oracle = new Oracle(clock, show, devices, clients, machine);
  const mixer = devices.get(MIXER);
  const talk =
    show.talk === null || mixer === undefined
      ? null
      : new Talk(show.talk, clock, mixer, machine, show.document, oracle);
  oracle.talk = talk;
  const met = new Set<string>();
  const story: string[] = [];
  const tell = (words: string): void => void story.push(`${(clock.now() / 1000).toFixed(3)} s  ${words}`);

  const accept = machine.writer.accept.bind(machine.writer);
  machine.writer.accept = (text) => {
    accept(text);
    for (const line of text.split('\n')) for (const entry of entriesOfLine(line)) oracle.record(entry);
  };
  const append = machine.writer.append.bind(machine.writer);
  machine.writer.append = (events) => {
    append(events);
    for (const [index, event] of events.entries())
      oracle.record({ ...event, seq: -1 - oracle.entries.length - index, at: '' });
  };
  machine.onLength = (device) => oracle.lengthOver(device);
  machine.onUp = () => {
    tell('the engine is up');
    for (const client of clients)
      clock.at(clock.now() + chance.between(10, 250), () => !client.connected && client.connect());
  };
  machine.onDown = () => {
    tell('the engine is gone');
    for (const client of clients) client.drop();
  };

  void machine.begin();
  await clock.goTo(3000, () => oracle.look());
  const end = 3000 + PLAY_MS;
  let busyUntil = 0;

  // With an edit that was given up or refused, an engine may speak to a place where nobody is.
  const hasOwnAddress = (key: string): boolean =>
    machine.host?.engine.program.devices.get(key)?.port === devices.get(key)?.config.port;

  const holds = show.meant.filter(({ button }) => button.mode === 'hold');
  const doPress = (meant: Meant, client: SimClient): void => {
    const how = chance.pick(['up', 'up', 'up', 'nothing', 'closed'] as const);
    const clear = machine.process?.alive === true && clock.now() > busyUntil;
    const held = meant.button.mode === 'hold';
    tell(`${client.name} presses ${meant.button.legend}${held ? `, ends by ${how}` : ''}`);
    client.press(meant, chance.whole(50, 2500), how, clear);
    if (held && how === 'closed') met.add('page closed while holding');
    if (held && how === 'nothing') met.add('page lost while holding');
    if (how === 'closed' && held) clock.at(clock.now() + 4000, () => !client.connected && client.connect());
    // A hand that is asked touches again.
    if (chance.is(0.6))
      clock.at(clock.now() + chance.whole(150, 900), () => client.press(meant, chance.whole(50, 900), 'up', false));
  };
  for (let count = 0; count < PRESSES; count += 1) {
    const at = 3000 + chance.next() * (PLAY_MS - 2000);
    clock.at(at, () => doPress(chance.is(0.35) ? chance.pick(holds) : chance.pick(show.meant), chance.pick(clients)));
  }

  // What alternates, and what is taken back: drawn by itself, beside the rest of the story.
  const more = new Chance(seed + 6_000_003);
  const counting = show.meant.find(({ what }) => what === 'count') ?? show.turning;
  const turned: [name: string, press: SimPress][] = [];
  for (let count = 0; count < TURNS; count += 1) {
    clock.at(3000 + more.next() * (PLAY_MS - 6000), () => {
      const client = more.pick(clients);
      const meant = more.pick([show.turning, show.turning, counting]);
      const isClear = (): boolean => machine.process?.alive === true && clock.now() > busyUntil;
      tell(`${client.name} presses ${meant.button.legend}`);
      const press = client.press(meant, 60, 'up', isClear());
      if (meant === show.turning) turned.push(['in turn', press]);
      if (!more.is(0.6)) return;
      clock.at(clock.now() + more.whole(200, 4000), () => {
        tell(`${client.name} takes ${meant.button.legend} back`);
        if (meant === counting) oracle.countsBack += 1;
        turned.push(['taken back', client.press(TAKE_BACK, 60, 'up', isClear(), { takeBack: press.pressId })]);
      });
    });
  }

  // Values in the hand: where it let go is where they stay, however busy the head was.
  for (let count = 0; count < DIALS; count += 1) {
    clock.at(4000 + count * DIAL_EVERY_MS + more.next() * 4000, () => {
      const client = more.pick(clients);
      const values = Array.from({ length: more.whole(2, 12) }, () => more.whole(0, 20));
      const everyMs = more.pick([5, 20, 50, 90]);
      const well = (): boolean =>
        machine.process?.alive === true && clock.now() > busyUntil && oracle.isWell('deskCam');
      const clear = well();
      const connected = client.connected;
      tell(`${client.name} turns iris to ${values.join(', ')}, one each ${everyMs} ms`);
      const press = client.turn(show.dial, values, everyMs, false);
      clock.at(clock.now() + values.length * everyMs + TURNED_MS, () => {
        if (!clear || !connected || !client.connected || client.lagMs > 0 || !well()) return;
        if (machine.deaths.some((at) => at > press.sentAt)) return;
        if (oracle.lookAtDial(press, values.at(-1) ?? 0)) met.add('value turned');
      });
    });
  }

  // Two hands on one head: the later one has it, and the earlier one's finger ends nothing of it.
  const moves = show.meant.filter(({ what }) => what === 'nudge');
  for (let count = 0; count < HANDS; count += 1)
    clock.at(3000 + more.next() * (PLAY_MS - 6000), () => {
      const meant = more.pick(moves);
      const [early, late] = more.is(0.5) ? [clients[0], clients[1]] : [clients[1], clients[2]];
      tell(`two hands on ${meant.button.legend}`);
      const before = early?.press(meant, more.whole(500, 2000), more.pick(['up', 'nothing'] as const), false);
      clock.at(clock.now() + more.whole(100, 400), () => {
        const after = late?.press(meant, more.whole(300, 2500), 'up', false);
        clock.at(clock.now() + 4000, () => {
          const [gave, took] = [early?.taken.get(before?.pressId ?? ''), late?.taken.get(after?.pressId ?? '')];
          if (gave === false && took === true) met.add('hand taken');
        });
      });
    });

  const stepping = isStepped(seed) ? new Stepping(clock, machine, show.stepped, (what) => oracle.say(what)) : null;
  oracle.stepping = stepping;
  stepping?.play(new Chance(seed + 10_000_019), end, tell);

  const setFaults = (key: string, faults: Partial<LinkFaults>, ms: number): void => {
    const device = devices.get(key);
    if (device === undefined) return;
    Object.assign(device.faults, faults);
    tell(`${key}: ${JSON.stringify(faults)} for ${ms} ms`);
    if (faults.silent === true || faults.dead === true) oracle.silentSince.set(key, clock.now());
    if (faults.implausible === true) oracle.lied.add(key);
    if (faults.dead === true) net.cut(device);
    let flood = (): void => undefined;
    if (faults.babbling === true || faults.implausible === true) {
      flood = () => {
        if (!device.faults.babbling && !device.faults.implausible) return;
        for (let copy = 0; copy < 5; copy += 1) net.badly(device);
        clock.at(clock.now() + 25, flood);
      };
      flood();
    }
    oracle.badUntil.set(key, Infinity);
    clock.at(clock.now() + ms, () => {
      Object.assign(device.faults, WELL);
      oracle.silentSince.delete(key);
      oracle.badUntil.set(key, hasOwnAddress(key) ? Math.max(clock.now(), device.delayedUntil) : Infinity);
      tell(`${key}: well again`);
    });
  };
  const badly = (ms: number): void => {
    busyUntil = Math.max(busyUntil, clock.now() + ms + 3000);
  };
  const troubles: readonly (() => void)[] = [
    () => {
      badly(0);
      met.add('kill');
      const before = machine.deathsWhileMoving;
      machine.kill('It was killed.');
      if (machine.deathsWhileMoving > before) met.add('kill while moving');
    },
    () => {
      // Just when somebody holds something.
      badly(2000);
      doPress(chance.pick(holds), chance.pick(clients));
      clock.at(clock.now() + chance.whole(60, 900), () => {
        met.add('kill');
        const before = machine.deathsWhileMoving;
        machine.kill('It was killed.');
        if (machine.deathsWhileMoving > before) met.add('kill while moving');
      });
    },
    () => {
      badly(5000);
      doPress(chance.pick(holds), chance.pick(clients));
      const ms = chance.pick([300, 900, 1500, 6000]);
      clock.at(clock.now() + chance.whole(20, 600), () => {
        tell(`the engine hangs for ${ms} ms`);
        met.add('hang');
        if (ms > 2500) met.add('hang ended');
        machine.hang(ms);
      });
    },
    () => {
      const ms = chance.whole(3000, 20_000);
      met.add('disk full');
      tell('the disk is full');
      machine.disk.fault = 'ENOSPC: no space left on device';
      machine.copy.full = true;
      clock.at(clock.now() + ms, () => {
        machine.disk.fault = null;
        machine.copy.full = false;
        tell('the disk has room again');
      });
    },
    () => {
      met.add('database away');
      machine.store.away = true;
      tell('the database is away');
      clock.at(clock.now() + chance.whole(2000, 15_000), () => {
        machine.store.away = false;
        tell('the database is back');
        void machine.keeper?.reconcile();
      });
    },
    () => {
      met.add('answer of a commit lost');
      machine.store.loseAnswers = chance.whole(1, 3);
    },
    () => {
      const client = chance.pick(clients);
      badly(3000);
      met.add('slow page');
      client.lagMs = chance.pick([150, 450, 1500]);
      tell(`${client.name} is slow by ${client.lagMs} ms`);
      clock.at(clock.now() + 8000, () => {
        client.lagMs = 0;
      });
    },
    () => {
      const key = chance.pick([...devices.keys()]);
      met.add('device switched off and on');
      tell(`${key} is switched off and on`);
      oracle.restart(key);
      setFaults(key, { dead: true }, chance.whole(500, 4000));
      const device = devices.get(key);
      if (device) {
        net.cut(device);
        device.restart();
      }
    },
    () => {
      // Just when much is asked of it: what waits for its turn must not burst out when it is back.
      const key = chance.pick(['switcher', 'captions']);
      met.add('silent while much waits');
      badly(6000);
      setFaults(key, { silent: true }, chance.whole(2300, 2900));
      const its = show.meant.filter(({ button }) =>
        button.steps.some((step) => step.kind === 'command' && step.device === key),
      );
      for (let count = 0; count < 8 && its.length > 0; count += 1)
        clock.at(clock.now() + chance.whole(10, 1700), () => doPress(chance.pick(its), chance.pick(clients)));
    },
    () => {
      met.add('port closed');
      setFaults(chance.pick([...devices.keys()]), { dead: true }, chance.whole(2500, 6000));
    },
    () => {
      const device = devices.get(chance.pick(['exchange', 'domeSlit', 'recorder1']));
      if (device === undefined) return;
      met.add('connection cut');
      net.cut(device);
    },
    ...(['drop', 'double', 'delay', 'silent', 'implausible', 'babbling', 'refuse'] as const).flatMap((fault) => [
      () => {
        const key = chance.pick([...devices.keys()]);
        const faults: Partial<LinkFaults> =
          fault === 'drop'
            ? { drop: chance.pick([0.05, 0.2, 0.35]) }
            : fault === 'double'
              ? { double: chance.pick([0.1, 0.6]) }
              : fault === 'delay'
                ? { delayMs: chance.pick([20, 120, 400]) }
                : { [fault]: true };
        setFaults(key, faults, chance.whole(3000, 12_000));
      },
      () =>
        setFaults(
          chance.pick(['deskCam', 'lawnCam', 'switcher']),
          fault === 'drop'
            ? { drop: 0.25, delayMs: 60 }
            : fault === 'delay'
              ? { delayMs: 250, double: 0.2 }
              : fault === 'double'
                ? { double: 0.5 }
                : { [fault]: true },
          chance.whole(3000, 9000),
        ),
    ]),
  ];
  for (let count = 0; count < FAULTS; count += 1)
    clock.at(3000 + chance.next() * (PLAY_MS - 25_000), () => chance.pick(troubles)());

  const stored = new Map<string, unknown>();
  const edit = async (changes: Change[], by: string): Promise<void> => {
    const editId = chance.ulid();
    for (let tries = 0; tries < 60; tries += 1) {
      const { process } = machine;
      const answer = await Promise.race([machine.edit(editId, changes, by), clock.pause(3000).then(() => 'unheard')]);
      if (answer === 'stored') {
        for (const change of changes) stored.set(`${change.id} ${change.field}`, change.to);
        return;
      }
      if (answer !== 'down' && answer !== 'unheard' && answer !== 'database-away' && process?.alive === true) return;
      await clock.pause(700);
    }
  };
  const mixing = show.meant.find(({ what }) => what === 'mixCut');
  talk?.play(new Chance(seed + 9_000_011), clients, end, {
    tell,
    hanging: new Chance(seed + 11_000_027),
    silence: (ms) => setFaults(MIXER, { silent: true }, ms),
    edit: (id, name) => {
      const from = machine.host?.engine.program.triggers.get(id)?.name;
      tell(`${from} is edited`);
      if (from !== undefined) void edit([{ entity: 'triggers', id, field: 'name', from, to: name }], 'Ines');
    },
    mix: (client) => mixing !== undefined && client.press(mixing, 60, 'up', false),
  });
  for (let count = 0; count < EDITS; count += 1) {
    clock.at(3000 + chance.next() * (PLAY_MS - 20_000), () => {
      const host = machine.host;
      if (host === null) return;
      const { document } = host.engine.program;
      if (chance.is(0.4)) {
        const device = chance.pick(document.devices);
        met.add('address edited');
        tell(`${device.key} is given another address, and its own again`);
        oracle.badUntil.set(device.key, Infinity);
        const change = (from: number, to: number): Change => ({
          entity: 'devices',
          id: device.id,
          field: 'port',
          from,
          to,
        });
        void edit([change(device.port, 500 + count)], 'Ines')
          .then(() => clock.pause(2500))
          .then(() => edit([change(500 + count, device.port)], 'Ines'))
          .then(() => {
            if (hasOwnAddress(device.key)) oracle.badUntil.set(device.key, clock.now());
          });
        return;
      }
      const button = chance.pick(document.buttons);
      void edit(
        [{ entity: 'buttons', id: button.id, field: 'note', from: button.note, to: `note ${count}` }],
        chance.pick(['Ines', 'Tomasz']),
      );
    });
  }
  const views = new Chance(seed + 3_000_017);
  const lookElsewhere = (): void => {
    views.pick(clients).look();
    clock.at(clock.now() + views.whole(1000, 9000), lookElsewhere);
  };
  clock.at(5000, lookElsewhere);
  const lookAtPoints = (): void => {
    oracle.lookAtPoints();
    oracle.lookAtRules();
    clock.at(clock.now() + 500, lookAtPoints);
  };
  clock.at(3000, lookAtPoints);

  await clock.goTo(end, () => oracle.look());
  for (const device of devices.values()) Object.assign(device.faults, WELL);
  oracle.silentSince.clear();
  for (const key of devices.keys())
    oracle.badUntil.set(
      key,
      hasOwnAddress(key) ? Math.max(clock.now(), devices.get(key)?.delayedUntil ?? 0) : Infinity,
    );
  machine.disk.fault = null;
  machine.copy.full = false;
  machine.store.away = false;
  machine.store.loseAnswers = 0;
  tell('everything is well again');
  await clock.goTo(end + QUIET_MS, () => oracle.look());
  void machine.keeper?.reconcile();
  await clock.goTo(end + QUIET_MS + 2000, () => oracle.look());
  oracle.lookAtPages();
  oracle.lookAtRules();
  const document = machine.host?.engine.program.document;
  for (const [key, to] of stored) {
    const [id = '', field = ''] = key.split(' ');
    const entry = [...(document?.buttons ?? []), ...(document?.devices ?? []), ...(document?.triggers ?? [])].find(
      (candidate) => candidate.id === id,
    ) as Record<string, unknown> | undefined;
    if (entry?.[field] !== to)
      oracle.broken.push(
        `an edit that was stored is not there: ${field} is ${String(entry?.[field])} and not ${String(to)}`,
      );
  }
  if (machine.store.now?.revision !== machine.host?.engine.program.revision)
    oracle.broken.push(
      `the database holds revision ${String(machine.store.now?.revision)}, the engine ${String(machine.host?.engine.program.revision)}`,
    );

  // The last thing: an orderly end in the middle of a move.
  const nudge = show.meant.find(({ what, head }) => what === 'nudge' && (!hasMast(seed) || head === MAST));
  if (nudge !== undefined && machine.host !== null) {
    const [client] = clients;
    client?.press(nudge, 4000, 'up', false);
    await clock.goTo(clock.now() + 600, () => oracle.look());
    met.add('orderly end while moving');
    oracle.close();
    const ending = machine.close();
    for (const press of client?.presses ?? []) press.heldUntil = Math.min(press.heldUntil, clock.now() - 400);
    await Promise.race([ending, clock.goTo(clock.now() + 3000, () => oracle.look())]);
    await clock.goTo(clock.now() + 1000, () => oracle.look());
  } else oracle.close();
  const { host } = machine;
  const troublesTold = host?.allTroubles() ?? [];
  for (const { where, words } of troublesTold) oracle.broken.push(`something threw in ${where}: ${words}`);
  for (const item of net.met) met.add(item);
  if (machine.disk.files().length > machine.starts.length) met.add('rotation');
  for (const [name, press] of turned) if (press.answers.get('down')?.startsWith('accepted') === true) met.add(name);
  if (
    devices
      .get(MAST)
      ?.allEffects()
      .some(({ command }) => command === 'drive')
  )
    met.add('head by profile moved');
  if (oracle.rulesHeld > 0) met.add('rule held');
  if (stepping !== null && stepping.steps > 0) met.add('stepped through');
  if (talk !== null && talk.shots > 0) met.add('shot followed');
  if (talk !== null && talk.heldOff > 0) met.add('shot held off by a hand');
  if (talk !== null && talk.hangs > 0) met.add('levels stood still');
  if (oracle.leasesEndedByThemselves > 0) met.add('lease ended by itself');
  if (machine.stopsByParent > 0) met.add('stops by the parent');
  return { seed, broken: oracle.broken, met: [...met], story };
}
