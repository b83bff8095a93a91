import { z } from 'zod';
import { Fault, suspectsOf } from '../faults';
import type { Installation } from '../installation';
import { seededRandom } from '../numeric';
import { placeNames } from '../planning';
import { drawTruth, lifelike, type Truth } from './truth';

/** The hidden part of a demo job, under the key `practice` of its file: what is really wrong, and the seed of all scatter. */
export const Practice = z.object({ seed: z.number().int(), faults: z.array(Fault) });
export type Practice = z.infer<typeof Practice>;

/** The truth behind a demo job; a fault is gone once a suspect at its place was mended, and a loose or poor end once it was out and went back. Null for a job that hides nothing. */
export function practiceTruth(file: { practice?: unknown }, map: Installation, mended: readonly string[], remade: readonly string[] = []): { truth: Truth; seed: number } | null {
  const parsed = Practice.safeParse(file.practice);
  if (!parsed.success) return null;
  const { seed, faults } = parsed.data;
  const suspects = suspectsOf(map);
  // Where nobody can read, a circuit that is not drawn say, the place is mended as a whole.
  const whole = placeNames(map);
  const touched = (f: Fault): string => whole(placeOf(f));
  // A device that was replaced or relieved is as its plate says; what leaked behind it leaks no longer behind it alone.
  const devices = suspects.filter((s) => mended.includes(s.id)).flatMap((s) => (s.kind === 'rcdSensitive' || s.kind === 'rcdBlind' ? [`device ${s.conductors[0] ?? ''}`] : []));
  const repaired = new Set([...devices, ...suspects.filter((s) => mended.includes(s.id)).flatMap((s) => s.fault(1, 0.5).map(touched))]);
  const left = faults.filter((f) => !repaired.has(touched(f)) && !(f.kind === 'termination' && remade.includes(f.end)));
  return { truth: drawTruth(map, left, lifelike, seededRandom(seed)), seed };
}

/** What a repair touches: a section, one end, or a point's terminals. */
function placeOf(f: Fault): string {
  switch (f.kind) {
    case 'termination': case 'landed': return f.end;
    case 'supply': return `supply ${f.lost}`;
    case 'device': return `device ${f.device}`;
    case 'leaky': return `${f.point}.${f.load}`;
    case 'joined': return f.terminals.join();
    case 'loadFault': return `${f.point}.${f.load}`;
    case 'openCore': case 'contact': case 'crossed': case 'missingSection': return f.section;
    default: return f.point;
  }
}
