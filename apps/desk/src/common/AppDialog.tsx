import { type ReactNode, useEffect, useRef } from 'react';
import { StyleSheet, View } from 'react-native';
import { Dialog, Portal } from 'react-native-paper';
import { Boundary } from './Boundary';
import { useLayer } from './useLayer';

interface AppDialogProps {
  readonly visible: boolean;
  readonly title?: string;
  /** Left out where the question must be answered. */
  readonly onClose?: () => void;
  readonly actions: ReactNode;
  readonly children: ReactNode;
}

const FOCUSABLE =
  'button:not([disabled]), [role="button"]:not([aria-disabled="true"]), input, textarea, [tabindex="0"]';

/** A dialog that the keyboard can live in: the focus goes in, goes round inside and comes back afterwards; Escape closes. */
export function AppDialog({ visible, title, onClose, actions, children }: AppDialogProps) {
  const content = useRef<View | null>(null);
  useLayer(visible, onClose);
  useEffect(() => {
    if (!visible) return undefined;
    const before = window.document.activeElement as HTMLElement | null;
    // On the web a View is its DOM element.
    const inside = (): HTMLElement[] => [
      ...((content.current as unknown as HTMLElement | null)?.querySelectorAll<HTMLElement>(FOCUSABLE) ?? []),
    ];
    const enter = setTimeout(() => inside()[0]?.focus(), 60);
    const keyDown = (event: KeyboardEvent): void => {
      if (event.key !== 'Tab') return;
      const all = inside();
      const at = all.indexOf(window.document.activeElement as HTMLElement);
      const next = event.shiftKey ? (at <= 0 ? all.at(-1) : null) : at === -1 || at === all.length - 1 ? all[0] : null;
      if (!next) return;
      event.preventDefault();
      next.focus();
    };
    window.addEventListener('keydown', keyDown, true);
    return () => {
      clearTimeout(enter);
      window.removeEventListener('keydown', keyDown, true);
      before?.focus();
    };
  }, [visible]);
  return (
    <Portal>
      <Dialog
        visible={visible}
        dismissable={onClose !== undefined}
        {...(onClose ? { onDismiss: onClose } : {})}
        style={styles.dialog}
      >
        <View ref={content}>
          {title === undefined ? null : <Dialog.Title>{title}</Dialog.Title>}
          <Dialog.Content style={styles.content}>
            {/* What fails in a dialog takes neither the dialog's buttons nor the page along. */}
            <Boundary key={String(visible)}>{children}</Boundary>
          </Dialog.Content>
          <Dialog.Actions style={styles.actions}>{actions}</Dialog.Actions>
        </View>
      </Dialog>
    </Portal>
  );
}

const styles = StyleSheet.create({
  dialog: { maxWidth: 500, width: '92%', alignSelf: 'center' },
  content: { gap: 12 },
  actions: { gap: 8 },
});
