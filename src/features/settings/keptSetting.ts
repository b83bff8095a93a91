import { useEffect, useState } from 'react';
import { recall, remember } from '@/storage/meta';

/** One setting of the app: shown at once wherever it is used, and remembered for the next start. */
export function keptSetting<T>(key: string, initial: T, read: (kept: string) => T, write: (value: T) => string): () => readonly [T, (next: T) => void] {
  let current = initial;
  let asked = false;
  const listeners = new Set<(value: T) => void>();
  const tell = (value: T): void => {
    current = value;
    for (const l of listeners) l(value);
  };
  const choose = (next: T): void => {
    tell(next);
    void remember(key, write(next));
  };
  return () => {
    const [value, setValue] = useState(current);
    useEffect(() => {
      listeners.add(setValue);
      if (!asked) {
        asked = true;
        void recall(key).then((kept) => {
          if (kept !== null) tell(read(kept));
        });
      }
      return () => void listeners.delete(setValue);
    }, []);
    return [value, choose];
  };
}
