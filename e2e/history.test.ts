import { historyFaults, type ToldCommand } from './support/history';

const toldCommand = (commandId: string, outcome: string | null): ToldCommand => ({
  commandId,
  command: 'cut',
  outcome,
});
const check = (commands: ToldCommand[], done: string[]) =>
  historyFaults(
    commands,
    done.map((key) => ({ key, command: 'cut' })),
    (command) => command.commandId,
  );

describe('the history checker', () => {
  it('is content with one effect for each told as done, and none or one for each of unknown effect', () => {
    expect(
      check(
        [toldCommand('a', 'done'), toldCommand('b', 'late'), toldCommand('c', 'lost'), toldCommand('d', 'refused')],
        ['a', 'b'],
      ),
    ).toEqual([]);
  });

  it('finds an effect that came twice, whatever was told of it', () => {
    expect(check([toldCommand('a', 'done'), toldCommand('b', 'late')], ['a', 'a', 'b', 'b'])).toEqual([
      'cut a was done 2 times.',
      'cut a is told as done but was done 2 times.',
      'cut b was done 2 times.',
    ]);
  });

  it('finds a thing told as done that never was, one told as refused that was, one without an outcome, and one that nobody sent', () => {
    expect(check([toldCommand('a', 'done'), toldCommand('b', 'refused'), toldCommand('c', null)], ['b', 'x'])).toEqual([
      'cut a is told as done but was done 0 times.',
      'cut b is told as refused but was done.',
      'cut c has no outcome.',
      'The device did x, which nobody sent.',
    ]);
  });
});
