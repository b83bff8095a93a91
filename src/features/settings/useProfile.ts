import { useEffect, useState } from 'react';
import { recall, remember } from '@/storage/meta';
import { profileIds, profiles, type Profile, type ProfileId } from '@core/profiles';

const isProfile = (id: string | null): id is ProfileId => profileIds.some((p) => p === id);
let current: ProfileId = 'iec';
const listeners = new Set<(id: ProfileId) => void>();

/** The regional profile that limits are taken from, and how to change it; remembered for the next start. */
export function useProfile(): readonly [Profile, (id: ProfileId) => void] {
  const [id, setId] = useState(current);
  useEffect(() => {
    listeners.add(setId);
    void recall('profile').then((kept) => {
      if (isProfile(kept) && kept !== current) tell(kept);
    });
    return () => void listeners.delete(setId);
  }, []);
  const choose = (next: ProfileId): void => {
    tell(next);
    void remember('profile', next);
  };
  return [profiles[id], choose];
}

function tell(id: ProfileId): void {
  current = id;
  for (const l of listeners) l(id);
}
