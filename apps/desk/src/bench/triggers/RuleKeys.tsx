import { canFire, shortcutsTo } from '@umbek/core/programming';
import type { ShowDocument, Trigger } from '@umbek/core/show';
import { useState } from 'react';
import { Segments } from '../../common/Segments';
import { KeysOf } from '../KeysOf';

const DOES = [
  { does: 'fire', words: 'Fires it' },
  { does: 'arm', words: 'Arms it' },
  { does: 'disarm', words: 'Disarms it' },
] as const;
type Does = (typeof DOES)[number]['does'];

/** The keys and codes that fire, arm or disarm a trigger. One that goes by what is so is never fired. */
export function RuleKeys({ document, trigger }: { readonly document: ShowDocument; readonly trigger: Trigger }) {
  const offered = DOES.filter(({ does }) => does !== 'fire' || canFire(trigger));
  const [wanted, setWanted] = useState<Does>('fire');
  const does = offered.some((candidate) => candidate.does === wanted) ? wanted : 'arm';
  return (
    <KeysOf
      document={document}
      runs={{ trigger: trigger.id, does }}
      name={`trigger ${trigger.name}`}
      above={
        <Segments
          value={does}
          onChange={(to) => setWanted(offered.find((candidate) => candidate.does === to)?.does ?? does)}
          options={offered.map((item) => {
            const count = shortcutsTo(document, { trigger: trigger.id, does: item.does }).length;
            return { value: item.does, label: count === 0 ? item.words : `${item.words} (${count})` };
          })}
        />
      }
    />
  );
}
