import { compileProgram, type PressInput } from '@umbek/core/engine';
import { VirtualClock } from '@umbek/core/rehearse';
import { corvaneHill, demoId } from '@umbek/demo';
import { encodeOsc, type OscArgument, type OscMessage } from '@umbek/wire/osc';
import { MemoryTokenStore } from './memoryTokenStore';
import { OSC_LIMITS, OscMessages } from './oscIn';
import { Tokens } from './tokens';

const DESK = { address: '10.0.0.7', port: 9000 };
const CHARTS = demoId('BTN', 5);
const DIAL = { param: 'level', by: 0, min: 0, max: 100, step: 1, unit: '', reads: 'sound.level1' };
const document = corvaneHill();
const FADER = document.buttons[0]?.id ?? '';
const program = compileProgram(
  {
    ...document,
    buttons: document.buttons.map((button) => (button.id === FADER ? { ...button, dial: DIAL } : button)),
    macros: document.macros.flatMap((macro) => [
      { ...macro, params: [{ key: 'seconds', start: 2 }] },
      { ...macro, id: demoId('MAC', 70 + macro.number), number: 70 + macro.number, params: [] },
    ]),
  },
  1,
);
const held = program.document.buttons.find(({ mode, dial }) => mode === 'hold' && dial === null)?.id ?? '';
const withParam = program.document.macros.find(({ params }) => params[0]?.key === 'seconds');
const plain = program.document.macros.find(({ params }) => params.length === 0);
const i = (value: number): OscArgument => ({ type: 'i', value });
const f = (value: number): OscArgument => ({ type: 'f', value });
const s = (value: string): OscArgument => ({ type: 's', value });

async function opened(may: Parameters<Tokens['make']>[2] = null) {
  const clock = new VirtualClock(0, new Date('2026-08-12T20:00:00Z'));
  const tokens = new Tokens(new MemoryTokenStore(), clock);
  await tokens.start();
  const pressed: PressInput[] = [];
  const messages = new OscMessages({
    tokens,
    clock,
    program: () => program,
    press: (input) => {
      pressed.push(input);
      return { accepted: true, runId: 'R1' };
    },
  });
  const secret = await tokens.make('gear', 'Sound desk', may, 'osc');
  const say = (what: string, args: readonly OscArgument[] = [], from = DESK): OscMessage[] =>
    messages.receive(encodeOsc([{ address: `/umbek/${secret}/${what}`, args }]), from);
  /** What was pressed since, in short. */
  const done = (): string[] =>
    pressed
      .splice(0)
      .map(({ phase, value, given }) => `${phase}${value ?? ''}${given === undefined ? '' : JSON.stringify(given)}`);
  return { clock, tokens, messages, secret, say, done, pressed };
}
const words = (replies: readonly OscMessage[]): string =>
  replies.map(({ address, args }) => `${address} ${args.map(({ value }) => String(value)).join(' | ')}`).join('\n');

describe('an OSC message', () => {
  it('presses a button once, also when the network doubles it; a second press is another one', async () => {
    const { say, done, clock, pressed } = await opened();
    expect(words(say(`button/${CHARTS}`))).toBe('/umbek/accepted R1');
    expect(pressed).toMatchObject([{ buttonId: CHARTS, station: 'Sound desk' }, { buttonId: CHARTS }]);
    expect(say(`button/${CHARTS}`)).toEqual([]);
    expect(done()).toEqual(['down', 'up']);
    clock.runTo(OSC_LIMITS.twiceMs);
    say(`button/${CHARTS}`, [i(1)]);
    // The finger that lifts presses nothing.
    say(`button/${CHARTS}`, [i(0)]);
    expect(done()).toEqual(['down', 'up']);
  });

  it('runs a macro with its typed arguments as parameters, and is refused where they do not fit', async () => {
    const { say, done } = await opened();
    say(`macro/${withParam?.number}`, [f(2.5)]);
    say(`macro/${withParam?.id}`);
    expect(done()).toEqual(['down{"seconds":2.5}', 'up{"seconds":2.5}', 'down', 'up']);
    expect(words(say(`macro/${withParam?.number}`, [s('two')]))).toBe(
      `/umbek/refused Macro ${withParam?.number} wants a number as seconds, and "two" came. | Mend the argument and its type.`,
    );
    expect(words(say(`macro/${plain?.number}`, [f(1)]))).toBe(
      `/umbek/refused Macro ${plain?.number} takes no argument, and 1 came. | Send it without arguments.`,
    );
    expect(words(say('macro/99998'))).toContain('There is no macro 99998.');
    expect(words(say(`button/01J0C0RVANEH1BVTT0N0000099`))).toContain('There is no button');
    expect(done()).toEqual([]);
  });

  it('holds a button as long as it comes again within the lease, and lets go without it', async () => {
    const { say, done, clock, messages } = await opened();
    say(`button/${held}`, [i(1)]);
    clock.runTo(300);
    say(`button/${held}`, [i(1)]);
    expect(done()).toEqual(['down', 'hold']);
    say(`button/${held}`, [i(0)]);
    expect(done()).toEqual(['up']);
    clock.runTo(1000);
    say(`button/${held}`, [f(1)]);
    clock.runTo(1399);
    expect(done()).toEqual(['down']);
    clock.runTo(1400);
    expect(done()).toEqual(['up']);
    say(`button/${held}`);
    messages.revoked('gear');
    expect(done()).toEqual(['down', 'up']);
    clock.runTo(9000);
    expect(done()).toEqual([]);
  });

  it('turns a value as long as it brings numbers', async () => {
    const { say, done, clock } = await opened();
    expect(words(say(`button/${FADER}`))).toContain('is turned to a number, and none came.');
    say(`button/${FADER}`, [f(10)]);
    clock.runTo(40);
    say(`button/${FADER}`, [f(12.5)]);
    say(`button/${FADER}`, [i(0)]);
    expect(done()).toEqual(['down10', 'hold12.5', 'hold0']);
    clock.runTo(440);
    expect(done()).toEqual(['up']);
    expect(words(say(`button/${FADER}`, [f(NaN)]))).toContain('none came.');
  });

  it('without a right token is done by nobody, answered by nobody, and told to whoever sets it up', async () => {
    const { messages, tokens, done, clock } = await opened();
    const bearer = await tokens.make('b', 'Newsroom', null);
    for (const secret of ['guess', bearer]) {
      const bytes = encodeOsc([{ address: `/umbek/${secret}/button/${CHARTS}`, args: [] }]);
      expect(messages.receive(bytes, DESK)).toEqual([]);
    }
    clock.runTo(3000);
    expect(messages.summary()).toEqual({
      from: '10.0.0.7',
      words: 'a token that is not known here, or was revoked. Make another one, and give the sender its address',
      agoMs: 3000,
    });
    expect(messages.receive(Buffer.from('no osc at all'), DESK)).toEqual([]);
    expect(messages.summary()?.words).toMatch(/^not OSC: /);
    expect(messages.receive(encodeOsc([{ address: '/cue/7/go', args: [] }]), DESK)).toEqual([]);
    expect(messages.summary()?.words).toMatch(/^an address that does not begin with .umbek./);
    expect(messages.receive(new Uint8Array(OSC_LIMITS.bytes + 1), DESK)).toEqual([]);
    expect(done()).toEqual([]);
  });

  it('fires, arms and disarms a trigger, and no other than its token may', async () => {
    const [first, second] = program.document.triggers.map(({ id }) => id);
    const { say, pressed, clock } = await opened([{ trigger: first ?? '', does: 'fire' }, { macro: plain?.id ?? '' }]);
    expect(words(say(`trigger/${first}`))).toBe('/umbek/accepted R1');
    // A pad sends 0 as it is let go, and the network doubles what it likes.
    say(`trigger/${first}`, [i(0)]);
    say(`trigger/${first}`);
    clock.runTo(OSC_LIMITS.twiceMs);
    say(`trigger/${first}/fire`, [i(1)]);
    expect(pressed.splice(0).map(({ buttonId, phase }) => `${buttonId} ${phase}`)).toEqual([
      `${first}.fire down`,
      `${first}.fire up`,
      `${first}.fire down`,
      `${first}.fire up`,
    ]);
    for (const other of [`trigger/${first}/arm`, `trigger/${second}`, `button/${first}`])
      expect(words(say(other))).toContain('may not run this');
    const all = await opened();
    expect(words(all.say('trigger/NOBODY/arm'))).toBe(
      '/umbek/refused There is no trigger NOBODY. | Take its id from GET /api/triggers.',
    );
    all.say(`trigger/${second}/disarm`);
    expect(all.pressed.map(({ buttonId }) => buttonId)).toEqual([`${second}.disarm`, `${second}.disarm`]);
    expect([pressed, all.messages.summary()?.words]).toEqual([[], 'Sound desk: There is no trigger NOBODY.']);
  });

  it('may run what its token may, and no more', async () => {
    const { say, done, messages } = await opened([{ button: CHARTS }]);
    expect(words(say(`macro/${plain?.number}`))).toBe(
      '/umbek/refused The token Sound desk may not run this. | Make a token that may, in the Bench, under Shortcuts.',
    );
    expect(messages.summary()?.words).toBe('Sound desk: The token Sound desk may not run this.');
    expect(done()).toEqual([]);
    say(`button/${CHARTS}`);
    expect(done()).toEqual(['down', 'up']);
  });

  it('in a storm runs so often a second, and others are not hurt by it', async () => {
    const { say, done, clock, tokens, messages } = await opened();
    for (let at = 0; at < 1000; at += 1) say(`button/${CHARTS}`, [], { ...DESK, port: 10_000 + at });
    // 60 at once, each down and up.
    expect(done()).toHaveLength(120);
    const other = await tokens.make('c', 'Light desk', null, 'osc');
    messages.receive(encodeOsc([{ address: `/umbek/${other}/button/${CHARTS}`, args: [] }]), DESK);
    expect(done()).toHaveLength(2);
    clock.runTo(1000);
    for (let at = 0; at < 30; at += 1) say(`button/${CHARTS}`, [], { ...DESK, port: 10_000 + at });
    // 20 a second.
    expect(done()).toHaveLength(40);
  });

  it('several in one bundle are done in their order', async () => {
    const { messages, secret, pressed } = await opened();
    const replies = messages.receive(
      encodeOsc([
        { address: `/umbek/${secret}/button/${CHARTS}`, args: [] },
        { address: `/umbek/${secret}/macro/${plain?.number}`, args: [] },
      ]),
      DESK,
    );
    expect(replies).toHaveLength(2);
    expect(pressed.map(({ buttonId }) => buttonId)).toEqual([CHARTS, CHARTS, plain?.id, plain?.id]);
  });
});
