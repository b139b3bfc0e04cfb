import { corvaneHill } from '@umbek/demo';
import { UNKNOWN } from '../expression/index';
import type { PlainValue, Role, ShowDocument, Step } from '../show/index';
import { compileProgram } from './program';
import { resolveCommand } from './resolve';
import { seatOf } from './roles';

const role: Role = {
  id: '01J0C0RVANEH1R0000000001AA',
  key: 'expert',
  name: 'Expert',
  person: 'Marit Solvang',
  source: 'roofCam',
  order: 'a0',
};

/** The demo, in which line 2 is on input 8, with the role alone. */
function show(more: Partial<ShowDocument> = {}): ShowDocument {
  const demo = corvaneHill();
  return { ...demo, roles: [role], ...more };
}
const known = (points: Record<string, PlainValue>) => (key: string) => points[key] ?? UNKNOWN;
const preview: Extract<Step, { kind: 'command' }> = {
  id: 'p',
  onFail: 'stop',
  kind: 'command',
  device: 'switcher',
  command: 'preview',
  params: { source: 'expert' },
};

describe('a role', () => {
  it('is found on the line that its person sits on, wherever that is now', () => {
    const document = show();
    expect(
      seatOf(role, document, known({ 'lines.line1Guest': 'Obi Adeyemi', 'lines.line2Guest': 'Marit Solvang' })),
    ).toMatchObject({ source: { input: 8 }, line: { gateway: 'lines', number: 2 } });
    expect(seatOf(role, document, known({}))).toMatchObject({ source: { key: 'roofCam' }, line: undefined });
  });

  it('stands in a command where a source may, and is worked out at each press', () => {
    const compiled = compileProgram(show(), 1);
    const input = (points: Record<string, PlainValue>) => {
      const resolved = resolveCommand(preview, compiled, known(points));
      return resolved.ok ? resolved.value.command.params.source : resolved.error.message;
    };
    expect([input({}), input({ 'lines.line2Guest': 'Marit Solvang' }), input({})]).toEqual([4, 8, 4]);
    // On a line that no source carries, any other picture would be the wrong one.
    expect(input({ 'lines.line5Guest': 'Marit Solvang' })).toBe('Expert sits on line 5, which no source carries.');
  });

  it('shares its keys with the sources, and names a source that exists', () => {
    const clash = compileProgram(show({ roles: [{ ...role, key: 'roofCam' }] }), 1);
    expect(clash.faults().map((error) => error.code)).toContain('key-clash');
    const gone = compileProgram(show({ roles: [{ ...role, source: 'nothing' }] }), 1);
    expect(gone.faults()).toMatchObject([{ code: 'dangling', path: 'roles.0.source' }]);
  });
});
