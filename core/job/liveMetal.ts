import { metalName, roleOfPlace, type Installation } from '../installation';
import type { JobView, LiveReadingView, ProofView } from './view';

/** Touch voltage from which metal is dangerous, volts (IEC 61140, dry places). */
export const TOUCH_VOLT = 50;

/** Metal that was found live to an independent earth since the last repair, by a live reading or while a point was proved; or volts between a neutral and an earth, of which one is then live; the highest figure. */
export function liveMetalOf(map: Installation | null, live: readonly LiveReadingView[], proofs: readonly ProofView[], epoch: number, mendedAt: number): JobView['liveMetal'] {
  if (!map) return null;
  const isEarth = (place: string): boolean => metalName(place) !== null || roleOfPlace(map, place) === 'E';
  const byReading = live.flatMap((r) => {
    const t = r.event.test;
    if (t.kind !== 'voltage' || r.struck || r.epoch !== epoch) return [];
    const [neutral, earth] = [t.from, t.to].sort((a, b) => Number(isEarth(a)) - Number(isEarth(b))) as [string, string];
    if (roleOfPlace(map, neutral) === 'N' && metalName(earth) === null && isEarth(earth)) return [{ place: earth, volt: t.volt, toNeutral: true }];
    const place = t.from === 'ground' ? t.to : t.to === 'ground' ? t.from : null;
    return place !== null && isEarth(place) ? [{ place, volt: t.volt, toNeutral: false }] : [];
  });
  const byProof = proofs.filter((p) => p.at >= mendedAt).flatMap((p) => p.checks.flatMap((c) => (c.from === 'rod' && isEarth(`${p.point}:${c.to}`) ? [{ place: `${p.point}:${c.to}`, volt: c.volt, toNeutral: false }] : [])));
  return [...byReading, ...byProof].filter((x) => x.volt > TOUCH_VOLT).sort((a, b) => b.volt - a.volt)[0] ?? null;
}
