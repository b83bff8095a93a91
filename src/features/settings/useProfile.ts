import { profileIds, profiles, type Profile, type ProfileId } from '@core/profiles';
import { keptSetting } from './keptSetting';

const useProfileId = keptSetting<ProfileId>('profile', 'iec', (kept) => profileIds.find((id) => id === kept) ?? 'iec', (id) => id);

/** The regional profile that limits are taken from, and how to change it. */
export function useProfile(): readonly [Profile, (id: ProfileId) => void] {
  const [id, choose] = useProfileId();
  return [profiles[id], choose];
}
