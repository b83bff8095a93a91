import { useRef } from 'react';
import type { MapEdit } from '@core/installation';

/** Figures as typed: an empty field, or no number, is NaN, which the map refuses with a reason. */
export const typed = (text: string): number => (text.trim() === '' ? NaN : Number(text.replace(',', '.')));

/**
 * Nothing typed is lost: what a sheet holds is saved when it is left, by whatever way, and together with whatever is done in it.
 * What the map refuses stays on the sheet with the reason; closed once more as it is, it is given up. True where the sheet was left.
 */
export function useLeaving(held: () => readonly MapEdit[], change: (...edits: MapEdit[]) => boolean, onClose: () => void): { readonly save: (...then: MapEdit[]) => boolean; readonly close: () => void } {
  const refused = useRef('');
  const save = (...then: MapEdit[]): boolean => {
    const edits = [...held(), ...then];
    const left = !edits.length || change(...edits);
    if (left) onClose();
    return left;
  };
  const close = (): void => {
    const key = JSON.stringify(held());
    if (refused.current === key) onClose();
    else if (!save()) refused.current = key;
  };
  return { save, close };
}
