import type { Panel } from '@umbek/core/show';
import { useState } from 'react';
import { Pressable, StyleSheet, Text } from 'react-native';
import { LaterPicker } from '../shell/laterPlace';
import { Icon } from '../theme/Icon';
import { colour, font } from '../theme/tokens';
import { Segments } from './Segments';

interface PanelChoiceProps {
  readonly panels: readonly Panel[];
  readonly value: string;
  readonly onChange: (panel: string) => void;
  /** Where there is room, so many stand side by side; more are chosen from a list with a search, the recent ones first. */
  readonly beside: number;
}

/** Which panel is shown: works with three and with sixty. */
export function PanelChoice({ panels, value, onChange, beside }: PanelChoiceProps) {
  const [open, setOpen] = useState(false);
  const now = panels.find((panel) => panel.id === value);
  if (panels.length <= beside)
    return (
      <Segments
        value={value}
        onChange={onChange}
        options={panels.map((panel) => ({ value: panel.id, label: panel.name }))}
        most={beside}
      />
    );
  return (
    <>
      <Pressable
        role="button"
        aria-haspopup="listbox"
        aria-expanded={open}
        accessibilityLabel={`Panel: ${now?.name ?? 'none'}. Choose another.`}
        onPress={() => setOpen(true)}
        style={styles.choice}
        testID="panel-choice"
      >
        <Text numberOfLines={1} style={styles.name}>
          {now?.name ?? 'Panel'}
        </Text>
        <Icon name="menu-down" size={22} color={colour.muted} />
      </Pressable>
      {open ? (
        <LaterPicker
          title="Panels"
          visible
          memory="panels"
          choices={panels.map((panel) => ({ key: panel.id, group: 'Panels', words: panel.name }))}
          onChoose={(choice) => onChange(choice.key)}
          onClose={() => setOpen(false)}
        />
      ) : null}
    </>
  );
}

const styles = StyleSheet.create({
  choice: {
    minHeight: 44,
    minWidth: 0,
    flexDirection: 'row',
    alignItems: 'center',
    justifyContent: 'space-between',
    gap: 6,
    paddingHorizontal: 12,
    borderRadius: 6,
    backgroundColor: colour.raised,
  },
  name: { flexShrink: 1, fontFamily: font.semibold, fontSize: 16, color: colour.text },
});
