import { type ReactElement, useCallback, useRef, useState } from 'react';
import { Dimensions, Platform, View } from 'react-native';
import { Menu } from 'react-native-paper';
import { useLayer } from './useLayer';

interface AnchoredMenuProps {
  readonly anchor: (open: () => void) => ReactElement;
  readonly items: readonly { readonly title: string; readonly icon?: string; readonly onPress: () => void }[];
}

/** It opens at once, and the focus is on its first item at once: whoever types ahead hits what they meant. */
const AT_ONCE = { animation: { scale: 0 } };
/** Nearer to the right edge than this a menu would not fit; it then ends where its opener ends. */
const MENU_WIDTH = 220;

/**
 * A menu below what opens it. It is laid down only while it is open (Paper's takes the focus whenever it is laid down closed), and at a place
 * measured once: with an element for an anchor it would begin anew whenever a live page draws itself. Closed, it gives the focus back.
 */
export function AnchoredMenu({ anchor, items }: AnchoredMenuProps) {
  const [at, setAt] = useState<{ x: number; y: number } | null>(null);
  const opener = useRef<View>(null);
  const open = (): void =>
    opener.current?.measureInWindow((x, y, width, height) =>
      setAt({ x: x + MENU_WIDTH > Dimensions.get('window').width ? x + width : x, y: y + height }),
    );
  const close = useCallback((): void => {
    setAt(null);
    if (Platform.OS === 'web')
      (opener.current as unknown as HTMLElement | null)?.querySelector<HTMLElement>('button, [tabindex="0"]')?.focus();
  }, []);
  useLayer(at !== null, close);
  return (
    <>
      <View ref={opener} collapsable={false}>
        {anchor(open)}
      </View>
      {at === null ? null : (
        <Menu visible anchor={at} theme={AT_ONCE} onDismiss={close}>
          {items.map((item) => (
            <Menu.Item
              key={item.title}
              title={item.title}
              {...(item.icon === undefined ? {} : { leadingIcon: item.icon })}
              onPress={() => {
                close();
                item.onPress();
              }}
            />
          ))}
        </Menu>
      )}
    </>
  );
}
