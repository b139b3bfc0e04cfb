import { canFire } from '@umbek/core/programming';
import { runsWords } from '@umbek/core/entryWords';
import { pressedId } from '@umbek/core/shortcut';
import type { Runs, ShowDocument } from '@umbek/core/show';
import { useMemo } from 'react';
import { type Choice, Picker } from '../common/Picker';

const DOES = ['fire', 'arm', 'disarm'] as const;

interface RunsChoice extends Choice {
  readonly runs: Runs;
}

/** Every button that a key can press, panel by panel, every macro, and what a hand does to each trigger. */
export function RunsPicker({
  document,
  visible,
  title = 'What shall the key press?',
  several = false,
  onChoose,
  onClose,
}: {
  readonly document: ShowDocument;
  readonly visible: boolean;
  readonly title?: string;
  /** Stays open after a choice, for several one after the other. */
  readonly several?: boolean;
  readonly onChoose: (runs: Runs) => void;
  readonly onClose: () => void;
}) {
  const choices = useMemo((): RunsChoice[] => {
    if (!visible) return [];
    const strips = new Map(document.strips.map((strip) => [strip.id, strip]));
    const panels = new Map(document.panels.map((panel) => [panel.id, panel.name]));
    return [
      ...document.buttons.flatMap((button): RunsChoice[] => {
        const strip = strips.get(button.stripId);
        if (button.dial !== null || strip === undefined) return [];
        const words = [strip.name, button.legend].filter(Boolean).join(' · ');
        return [{ key: button.id, group: panels.get(strip.panelId) ?? '', words, runs: { button: button.id } }];
      }),
      ...document.macros.map(({ id, number, name }): RunsChoice => ({
        key: id,
        group: 'Macros',
        words: `${number} ${name}`,
        runs: { macro: id },
      })),
      ...document.triggers.flatMap((trigger): RunsChoice[] =>
        DOES.flatMap((does): RunsChoice[] => {
          if (does === 'fire' && !canFire(trigger)) return [];
          const runs: Runs = { trigger: trigger.id, does };
          return [{ key: pressedId(runs), group: 'Triggers', words: runsWords(document, runs), runs }];
        }),
      ),
    ].sort((item, other) => item.group.localeCompare(other.group));
  }, [document, visible]);
  return (
    <Picker
      title={title}
      several={several}
      memory="shortcuts"
      visible={visible}
      choices={choices}
      onChoose={({ runs }) => onChoose(runs)}
      onClose={onClose}
    />
  );
}
