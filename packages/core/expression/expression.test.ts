import { compileExpression, compileLiveText, type Expression, ExpressionFault, UNKNOWN, type Verdict } from './index';

const compiled = (text: string): Expression => {
  const result = compileExpression(text);
  if (!result.ok) throw new Error(result.error.message);
  return result.value;
};
const reader =
  (known: Record<string, string | number | boolean>) =>
  (key: string): Verdict =>
    known[key] ?? UNKNOWN;
const value = (text: string, known: Record<string, string | number | boolean> = {}) =>
  compiled(text).evaluate(reader(known));

describe('an expression', () => {
  it('knows what it reads, once each, in order', () => {
    expect(compiled('switcher.program == 4 && deskCam.travelling || switcher.program == value.count').reads).toEqual([
      'switcher.program',
      'deskCam.travelling',
      'value.count',
    ]);
  });

  it('takes whole numbers and fractions alike', () => {
    expect(value('sound.level > -20', { 'sound.level': -19.5 })).toBe(true);
    expect(value('sound.level > -20', { 'sound.level': -21 })).toBe(false);
    expect(value('deskCam.pan + 1', { 'deskCam.pan': 0.5 })).toBe(1.5);
    expect(value('deskCam.pan + 1', { 'deskCam.pan': 2 })).toBe(3);
  });

  it('is unknown where anything that it needs is unknown', () => {
    expect(value('switcher.program == 4')).toBe(UNKNOWN);
    expect(value('switcher.program == 4 && true')).toBe(UNKNOWN);
    expect(value('!deskCam.travelling')).toBe(UNKNOWN);
  });

  it.each([
    ['deskCam.reached && deskCam.travelling', { 'deskCam.reached': false }, false],
    ['!deskCam.reached || deskCam.travelling', { 'deskCam.reached': false }, true],
    ['deskCam.travelling || deskCam.reached', { 'deskCam.reached': true }, true],
    ['deskCam.travelling && deskCam.reached', { 'deskCam.reached': true }, UNKNOWN],
  ])('decides %s as far as the known side decides it', (text, known, expected) => {
    expect(value(text, known as unknown as Record<string, boolean>)).toBe(expected);
  });

  it('follows a selection through at()', () => {
    const moving = compiled('at(chosen.camera).travelling == false');
    expect(moving.indirect).toBe(true);
    expect(moving.reads).toEqual(['chosen.camera']);
    const desk = reader({ 'chosen.camera': 'deskCam', 'deskCam.travelling': false, 'domeCam.travelling': true });
    expect(moving.readsNow(desk)).toEqual(['chosen.camera', 'deskCam.travelling']);
    expect(moving.evaluate(desk)).toBe(true);
    const dome = reader({ 'chosen.camera': 'domeCam', 'deskCam.travelling': false, 'domeCam.travelling': true });
    expect(moving.readsNow(dome)).toEqual(['chosen.camera', 'domeCam.travelling']);
    expect(moving.evaluate(dome)).toBe(false);
    expect(moving.evaluate(reader({}))).toBe(UNKNOWN);
  });

  it('says that it cannot be worked out, instead of throwing', () => {
    expect(value('captions.nameText > 3', { 'captions.nameText': 'Ines' })).toBeInstanceOf(ExpressionFault);
    expect(value('captions.nameText && true', { 'captions.nameText': 'Ines' })).toBeInstanceOf(ExpressionFault);
  });

  it('keeps the variable of a CEL macro apart from names', () => {
    expect(compiled('[1, 2].exists(n, n == switcher.program)').reads).toEqual(['switcher.program']);
    expect(value('[1, 2].exists(n, n == switcher.program)', { 'switcher.program': 2 })).toBe(true);
  });

  it.each(['switcher.program ==', 'program == 4', 'nothing(3)', 'switcher.program == 4)', ''])(
    'is refused with its place: %s',
    (text) => {
      const result = compileExpression(text, 'macros.0.steps.2.until');
      expect(result.ok).toBe(false);
      if (result.ok) return;
      expect(result.error.path).toBe('macros.0.steps.2.until');
      expect(result.error.message).toMatch(/at character \d+/);
      expect(result.error.mend).not.toBe('');
    },
  );
});

describe('live text', () => {
  it('fills its parts and shows a dash for what is not known', () => {
    const text = compileLiveText('{{ value.meteors }} meteors, {{captions.nameText}}');
    if (!text.ok) throw new Error(text.error.message);
    expect(text.value.reads).toEqual(['value.meteors', 'captions.nameText']);
    expect(text.value.render(reader({ 'value.meteors': 37 }))).toBe('37 meteors, –');
  });

  it('tells a brace that is never closed', () => {
    expect(compileLiveText('{{ value.meteors')).toMatchObject({ ok: false, error: { code: 'bad-live-text' } });
  });
});

describe('a text that lists one a line', () => {
  const worked = (text: string, clips: string) => {
    const compiled = compileExpression(text);
    if (!compiled.ok) return compiled.error.message;
    const value = compiled.value.evaluate((key) => (key === 'spool.clips' ? clips : UNKNOWN));
    return value instanceof ExpressionFault ? value.message : value;
  };

  it('is gone through as a list: entries, how many, whether one is among them', () => {
    const clips = 'Opening film\n\nHolding loop';
    expect(worked('lines(spool.clips)[1]', clips)).toBe('Holding loop');
    expect(worked('size(lines(spool.clips))', clips)).toBe(2);
    expect(worked('"Opening film" in lines(spool.clips)', clips)).toBe(true);
    expect(worked('lines(spool.clips).exists(one, one.startsWith("Hold"))', clips)).toBe(true);
    expect(worked('"x" in lines(spool.clips)', '')).toBe(false);
    expect(worked('"x" in lines(spool.gone)', clips)).toBe(UNKNOWN);
  });

  it('ends after a thousand entries, and is gone through once, never inside itself', () => {
    const many = Array.from({ length: 5000 }, (_, at) => `clip ${at}`).join('\n');
    expect(worked('size(lines(spool.clips))', many)).toBe(1000);
    expect(worked('lines(spool.clips).all(a, lines(spool.clips).exists(b, a == b))', many)).toMatch(
      /^A condition that goes through lines of a text goes through no list inside it\./,
    );
  });
});
