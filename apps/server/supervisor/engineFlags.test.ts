import { engineFlags, flagsKnown } from './engineFlags';

const OPTIONS = `  --flush-bytecode (flush of bytecode when it has not been executed recently)
        type: bool  default: --flush-bytecode
  --interrupt-budget-factor (another one)
        type: int  default: --interrupt-budget-factor=8
`;

describe('flags of the engine process', () => {
  it('leaves out what this Node does not know, whatever sounds alike', () => {
    expect(flagsKnown(OPTIONS)).toEqual(['--no-flush-bytecode']);
    expect(flagsKnown(`${OPTIONS}  --interrupt-budget (interrupt budget)\n`)).toEqual(['--no-flush-bytecode', '--interrupt-budget=2000']);
    expect(flagsKnown('')).toEqual([]);
  });

  it('finds them in the Node that runs', () => {
    expect(engineFlags()).toContain('--no-flush-bytecode');
  });
});
