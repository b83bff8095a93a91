import { fail, issue, ok, type Result } from '../issue';
import { Ampere, Kiloampere, ResidualMa, SomeOhm } from '../units';
import type { Supply } from './schema';

/** Ohms of the supply up to the board where nobody measured them; `star`: of the source's own electrode. */
const USUAL_OHM = { line: 0.12, neutral: 0.1, earth: 0.25, electrode: 40, star: 1 } as const;
export const STAR_OHM = USUAL_OHM.star;

/** Loops as they are measured at the origin, in ohms: line to earth (Ze) and line to neutral. */
export interface OriginLoops { readonly earthOhm: number | null; readonly neutralOhm: number | null }

const electrode = (s: Supply | undefined): boolean => s?.arrangement === 'TT' || s?.arrangement === 'IT';

/** Ohms of each incoming conductor, measured or usual. */
export const supplyOhms = (s: Supply | undefined): { readonly line: number; readonly neutral: number; readonly earth: number } => ({
  line: s?.lineOhm ?? USUAL_OHM.line,
  neutral: s?.neutralOhm ?? USUAL_OHM.neutral,
  earth: s?.earthOhm ?? (electrode(s) ? USUAL_OHM.electrode : USUAL_OHM.earth),
});

/** The loops that these ohms make; null where nobody measured. A combined conductor carries both. */
export function originLoops(s: Supply): OriginLoops {
  if (s.lineOhm === undefined) return { earthOhm: null, neutralOhm: null };
  const neutralOhm = s.neutralOhm === undefined ? null : s.lineOhm + s.neutralOhm;
  if (s.arrangement === 'TN-C-S') return { earthOhm: neutralOhm, neutralOhm };
  return { earthOhm: s.earthOhm === undefined ? null : s.lineOhm + s.earthOhm + (electrode(s) ? STAR_OHM : 0), neutralOhm };
}

/** The supply with its loops as measured. How line and return share a loop is not measured: half each, never more than the smaller loop allows. */
export function withOriginLoops(s: Supply, { earthOhm, neutralOhm }: OriginLoops): Supply {
  const { lineOhm: _l, neutralOhm: _n, earthOhm: _e, ...bare } = s;
  if (s.arrangement === 'TN-C-S') {
    const loop = neutralOhm ?? earthOhm;
    return loop === null ? bare : { ...bare, lineOhm: loop / 2, neutralOhm: loop / 2 };
  }
  const star = electrode(s) ? STAR_OHM : 0;
  const line = Math.min(neutralOhm === null ? USUAL_OHM.line : neutralOhm / 2, earthOhm === null ? Infinity : Math.max(0.8 * (earthOhm - star), earthOhm * 0.01));
  if (neutralOhm === null && earthOhm === null) return bare;
  return { ...bare, lineOhm: line, ...(neutralOhm === null ? {} : { neutralOhm: neutralOhm - line }), ...(earthOhm === null ? {} : { earthOhm: Math.max(earthOhm - line - star, earthOhm * 0.01) }) };
}

/** Figures that cannot be. */
export function checkSupply(s: Supply): Result<Supply> {
  const figures = [...[s.lineOhm, s.neutralOhm, s.earthOhm].map((x) => [SomeOhm, x] as const), [Ampere, s.main?.ratingA] as const, [ResidualMa, s.main?.residualMa ?? undefined] as const, [Kiloampere, s.breakingKa] as const];
  const wrong = figures.find(([may, x]) => x !== undefined && !may.safeParse(x).success)?.[1];
  return wrong === undefined ? ok(s) : fail(issue('supply.figure', ['supply'], { figure: Number.isFinite(wrong) ? wrong : 'nothing' }));
}

/**
 * Prospective fault current at the origin, in amperes: the smaller of the measured loops decides; between the lines of a three-phase
 * supply it is taken as twice that of line and neutral, as is usual when only that was measured. Null where nothing was measured.
 */
export function prospectiveAmp(nominalVolt: number, phases: 1 | 3, loops: OriginLoops): number | null {
  const amps = [
    ...(loops.neutralOhm === null ? [] : [(nominalVolt / loops.neutralOhm) * (phases === 3 ? 2 : 1)]),
    ...(loops.earthOhm === null ? [] : [nominalVolt / loops.earthOhm]),
  ];
  return amps.length ? Math.max(...amps) : null;
}
