import { useEffect, useState } from 'react';
import { View } from 'react-native';
import { Button, Words } from '@/components';
import { useTheme } from '@/theme';

/** A new version that waits is offered, never forced: it takes over when the person says so. */
export function UpdateOffer() {
  const { colour } = useTheme();
  const [waiting, setWaiting] = useState<ServiceWorker | null>(null);
  useEffect(() => {
    if (__DEV__ || !('serviceWorker' in navigator)) return;
    let asked = false;
    const reload = (): void => {
      if (asked) window.location.reload();
    };
    navigator.serviceWorker.addEventListener('controllerchange', reload);
    const mark = (): void => {
      asked = true;
    };
    window.addEventListener('gutter-update', mark);
    void navigator.serviceWorker.register('/sw.js').then((registration) => {
      const offer = (): void => {
        if (registration.waiting && navigator.serviceWorker.controller) setWaiting(registration.waiting);
      };
      offer();
      registration.addEventListener('updatefound', () => registration.installing?.addEventListener('statechange', offer));
    });
    return () => {
      navigator.serviceWorker.removeEventListener('controllerchange', reload);
      window.removeEventListener('gutter-update', mark);
    };
  }, []);
  if (!waiting) return null;
  return (
    <View testID="update-offer" style={{ flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: 14, paddingVertical: 6, backgroundColor: colour.sheet, borderBottomWidth: 1, borderBottomColor: colour.hairline }}>
      <Words style={{ flex: 1 }}>A newer Gutter is ready.</Words>
      <Button label="Later" kind="quiet" onPress={() => setWaiting(null)} />
      <Button label="Change now" onPress={() => {
        window.dispatchEvent(new Event('gutter-update'));
        waiting.postMessage({ type: 'SKIP_WAITING' });
      }} />
    </View>
  );
}
