import type { ReactNode } from 'react';
import { Modal, Pressable, ScrollView, View } from 'react-native';
import { useTheme } from '@/theme';
import { Button } from './Button';
import { Words } from './Words';

/** Rises from the bottom; on wide screens it stands in the middle. Escape or "Close" puts it away. */
export function Sheet({ title, onClose, children, footer, testID }: { title: string; onClose: () => void; children: ReactNode; footer?: ReactNode; testID?: string }) {
  const { colour, wide } = useTheme();
  return (
    <Modal transparent visible aria-label={title} onRequestClose={onClose} animationType="none">
      <View style={{ flex: 1, justifyContent: wide ? 'center' : 'flex-end', alignItems: wide ? 'center' : 'stretch' }}>
        <Pressable aria-hidden tabIndex={-1} onPress={onClose} style={{ position: 'absolute', top: 0, left: 0, right: 0, bottom: 0, backgroundColor: colour.veil, opacity: 0.4 }} />
        <View testID={testID} style={{ backgroundColor: colour.sheet, borderTopLeftRadius: 18, borderTopRightRadius: 18, borderRadius: wide ? 14 : undefined, width: wide ? 560 : undefined, maxHeight: '88%', borderWidth: 1.5, borderColor: colour.edge, paddingHorizontal: 18, paddingTop: 12, paddingBottom: 16, gap: 10 }}>
          <View style={{ flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', gap: 10 }}>
            <Words at="lead" bold role="heading" style={{ flexShrink: 1 }}>{title}</Words>
            <Button label="Close" kind="quiet" onPress={onClose} />
          </View>
          <ScrollView style={{ flexShrink: 1 }} contentContainerStyle={{ gap: 10, paddingBottom: 4 }}>{children}</ScrollView>
          {footer}
        </View>
      </View>
    </Modal>
  );
}
