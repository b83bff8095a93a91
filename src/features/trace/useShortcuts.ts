import { useEffect } from 'react';

/** Single keys, while no field has the focus and no sheet is open. */
export function useShortcuts(keys: Readonly<Record<string, (() => void) | undefined>>): void {
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      const target = e.target as HTMLElement | null;
      if (e.ctrlKey || e.metaKey || e.altKey || target?.closest('input, textarea, [role=dialog]')) return;
      const action = keys[e.key.toLowerCase()];
      if (!action) return;
      e.preventDefault();
      action();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
}

/** The screen stays awake while both hands are busy, where the browser allows it. */
export function useKeepAwake(): void {
  useEffect(() => {
    let lock: { release(): Promise<void> } | null = null;
    const take = (): void => {
      if (document.visibilityState !== 'visible' || !('wakeLock' in navigator)) return;
      void navigator.wakeLock.request('screen').then((l) => {
        lock = l;
      }).catch(() => undefined);
    };
    take();
    document.addEventListener('visibilitychange', take);
    return () => {
      document.removeEventListener('visibilitychange', take);
      void lock?.release();
    };
  }, []);
}
