/** What the browser says of the room that it gives: whether it keeps it for certain, and how much is used, bytes. Null where it says nothing. */
export interface Room { readonly certain: boolean; readonly usedBytes: number | null; readonly ofBytes: number | null }

/** A page that came by plain http is told nothing. */
const manager = (): StorageManager | undefined => (navigator as Partial<Navigator>).storage;

/** Asks that what is kept be not cleared when room runs out; most browsers grant it to a page that is used or put on the home screen. */
export async function askToKeep(): Promise<boolean> {
  const m = manager();
  if (!m?.persist) return false;
  return (await m.persisted().catch(() => false)) || m.persist().catch(() => false);
}

export async function roomNow(): Promise<Room | null> {
  const m = manager();
  if (!m?.persisted) return null;
  const estimate = await m.estimate().catch((): StorageEstimate => ({}));
  return { certain: await m.persisted().catch(() => false), usedBytes: estimate.usage ?? null, ofBytes: estimate.quota ?? null };
}
