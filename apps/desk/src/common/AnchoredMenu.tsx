import { type ReactElement, useState } from 'react';
import { Menu } from 'react-native-paper';

interface AnchoredMenuProps {
  readonly anchor: (open: () => void) => ReactElement;
  readonly items: readonly { readonly title: string; readonly icon?: string; readonly onPress: () => void }[];
}

/** A menu at what opens it. Paper's menu takes the focus whenever it is laid down closed, so it is laid down only while it is open. */
export function AnchoredMenu({ anchor, items }: AnchoredMenuProps) {
  const [open, setOpen] = useState(false);
  const opener = anchor(() => setOpen(true));
  if (!open) return opener;
  return (
    <Menu visible onDismiss={() => setOpen(false)} anchor={opener}>
      {items.map((item) => (
        <Menu.Item
          key={item.title}
          title={item.title}
          {...(item.icon === undefined ? {} : { leadingIcon: item.icon })}
          onPress={() => {
            setOpen(false);
            item.onPress();
          }}
        />
      ))}
    </Menu>
  );
}
