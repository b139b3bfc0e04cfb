import type { PlainValue } from '@umbek/core/show';
import { pressedId } from '@umbek/core/shortcut';
import type { Button, Macro, Runs, Trigger } from '@umbek/core/show';
import type { Program } from '@umbek/core/engine';
import type { ErrorReply } from '@umbek/protocol';
import type { KeptToken } from './tokenStore';

/** What other gear asks for, by whichever way it came. */
export type GearAsk =
  | { readonly button: string }
  | Extract<Runs, { trigger: string }>
  | { readonly macro: number | string; readonly params?: Readonly<Record<string, PlainValue>> | undefined };

/** What a token runs: a button, a macro with parameters, or what is done to a trigger; `id` is what a press of it carries. */
export type GearRun =
  | { readonly id: string; readonly button: Button }
  | { readonly id: string; readonly macro: Macro }
  | { readonly id: string; readonly trigger: Trigger };

export interface GearRefusal {
  readonly error: ErrorReply;
  readonly status?: number;
}

/** Looks whether a token may run what is asked for, and whether that is there. */
export function gearRun(token: Pick<KeptToken, 'name' | 'may'>, ask: GearAsk, program: Program): GearRun | GearRefusal {
  const refused = (code: string, message: string, mend: string, path: string, status?: number): GearRefusal => ({
    error: { code, message, mend, path },
    ...(status === undefined ? {} : { status }),
  });
  const runs: Runs = 'macro' in ask ? { macro: macroId(ask.macro, program.document.macros) } : ask;
  const id = pressedId(runs);
  const what = 'button' in ask ? 'button' : 'macro' in ask ? 'macro' : 'trigger';
  const may = token.may === null || token.may.some((candidate) => what in candidate && pressedId(candidate) === id);
  if (!may)
    return refused(
      'not-given',
      `The token ${token.name} may not run this.`,
      'Make a token that may, in the Bench, under Shortcuts.',
      what,
      403,
    );
  if ('button' in ask) {
    const button = program.buttons.get(id);
    return button === undefined
      ? refused('unknown-button', `There is no button ${id}.`, 'Take its id from GET /api/panels.', 'button')
      : { id, button };
  }
  if ('trigger' in ask) {
    const trigger = program.triggers.get(ask.trigger);
    return trigger === undefined
      ? refused('unknown-trigger', `There is no trigger ${ask.trigger}.`, 'Take its id from GET /api/triggers.', what)
      : { id, trigger };
  }
  const macro = program.macros.get(id);
  if (macro === undefined)
    return refused('unknown-macro', `There is no macro ${ask.macro}.`, 'See the macros in the Bench.', 'macro');
  const odd = Object.keys(ask.params ?? {}).find((key) => !macro.params.some((param) => param.key === key));
  if (odd !== undefined)
    return refused(
      'bad-field',
      `Macro ${macro.number} has no parameter ${odd}.`,
      macro.params.length === 0 ? 'Leave it out.' : `It has ${macro.params.map(({ key }) => key).join(', ')}.`,
      `params.${odd}`,
    );
  return { id, macro };
}

const macroId = (asked: number | string, macros: readonly Macro[]): string =>
  typeof asked === 'number' ? (macros.find(({ number }) => number === asked)?.id ?? '') : asked;
