import type { Use } from '@umbek/core/programming';
import { useState } from 'react';
import { Button, IconButton } from 'react-native-paper';
import { AnchoredMenu } from '../common/AnchoredMenu';
import { AppDialog } from '../common/AppDialog';
import { TextField } from '../common/fields';
import { RemoveWithUses } from './RemoveWithUses';

interface NameOrRemoveProps {
  readonly name: string;
  /** Label of the field for the name. */
  readonly label: string;
  readonly iconColor?: string;
  readonly style: object;
  readonly uses: () => readonly Use[];
  /** Left out: what it is cannot be seen from here. */
  readonly onStoreAgain?: () => void;
  readonly onName: (name: string) => void;
  readonly onRemove: () => void;
}

/** The menu of something that was stored: store again, rename, remove after saying where it is used. */
export function NameOrRemove({
  name,
  label,
  iconColor,
  style,
  uses,
  onStoreAgain,
  onName,
  onRemove,
}: NameOrRemoveProps) {
  const [open, setOpen] = useState<'name' | 'remove' | null>(null);
  const close = (): void => setOpen(null);
  return (
    <>
      <AnchoredMenu
        items={[
          ...(onStoreAgain === undefined ? [] : [{ icon: 'camera', title: 'Store again', onPress: onStoreAgain }]),
          { icon: 'pencil', title: 'Rename', onPress: () => setOpen('name') },
          { icon: 'delete', title: 'Remove', onPress: () => setOpen('remove') },
        ]}
        anchor={(show) => (
          <IconButton
            icon="dots-vertical"
            size={18}
            {...(iconColor === undefined ? {} : { iconColor })}
            style={style}
            accessibilityLabel={`More for ${name}`}
            onPress={show}
          />
        )}
      />
      <AppDialog
        visible={open !== null}
        onClose={close}
        actions={open === 'remove' ? null : <Button onPress={close}>Close</Button>}
      >
        {open === 'name' ? (
          <TextField
            label={label}
            value={name}
            fresh
            onDone={close}
            longest={120}
            fault={(text) => (text === '' ? 'Give it a name.' : null)}
            onChange={onName}
          />
        ) : null}
        {open === 'remove' ? (
          <RemoveWithUses
            what={name}
            uses={uses()}
            onKeep={close}
            onRemove={() => {
              close();
              onRemove();
            }}
          />
        ) : null}
      </AppDialog>
    </>
  );
}
