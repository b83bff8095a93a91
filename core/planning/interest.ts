import type { Belief, BeliefEngine } from '../belief';
import { circuitsOf, endKeyOf, endsAtPoint, findPoint, parsePlace, sectionOfEnd, type Installation, type Section } from '../installation';
import type { Action, Situation } from './stance';

// Where the suspicion is, and which splits part it.

const MOST_SPLITS = 14;
const MOST_OPENED = 16;

/**
 * Probability of each section, of each point alone ("at p3"), of one circuit's ends there ("ends 2 at p0"), of each load ("load p3.lamp"), of a circuit that borrows a neutral, of what lies behind switches and of each point with what a reading there concerns: the sections
 * that meet, at a furthest point the whole circuit behind it.
 */
export function interestIn({ installation, suspects, answering }: Pick<BeliefEngine, 'installation' | 'suspects' | 'answering'>, belief: Belief): Map<string, number> {
  const share = new Map<string, number>();
  const add = (key: string, p: number): void => void share.set(key, (share.get(key) ?? 0) + p);
  const circuits = circuitsOf(installation);
  for (const [i, s] of suspects.entries()) {
    const place = s.place.split('.')[0] ?? s.place;
    add(place, belief.suspectShare[i] as number);
    // What is in a load, and what shows only with a load in.
    if ((s.site.on === 'pair' || s.site.on === 'branch') && s.site.part !== undefined && (s.kind === 'loadFault' || s.kind === 'loadOpen' || s.kind === 'borrowed')) add(`load ${s.site.part}`, belief.suspectShare[i] as number);
    if (s.kind === 'borrowed') add(astray(circuits.get(s.place)), belief.suspectShare[i] as number);
    if (s.site.on === 'branch' && s.site.endKey) add(endsAt(place, circuits.get(sectionOfKey(installation, s.site.endKey))), belief.suspectShare[i] as number);
  }
  const { cells, weight } = belief;
  for (let c = 0; c < cells.count; c++) {
    const { behind } = answering[cells.answer[c] as number] ?? {};
    if (behind) add(behindSwitches(behind.way), weight[c] as number);
  }
  const whole = new Map<number | undefined, number>();
  for (const x of [...installation.sections, ...installation.points]) whole.set(circuits.get(x.id), (whole.get(circuits.get(x.id)) ?? 0) + (share.get(x.id) ?? 0));
  for (const p of installation.points) {
    const own = share.get(p.id) ?? 0;
    share.set(`at ${p.id}`, own);
    const sections = new Set(endsAtPoint(installation, p.id).map((e) => e.section.id));
    share.set(p.id, sections.size === 1 ? (whole.get(circuits.get(p.id)) ?? own) : [...sections].reduce((sum, s) => sum + (share.get(s) ?? 0), own));
  }
  return share;
}

/** Key of the suspicion that some load of a circuit returns by a neutral of another. */
export const astray = (circuit: number | undefined): string => `astray ${circuit}`;

/** Key of the suspicion on what hangs behind switches of a way that nobody has drawn. */
export const behindSwitches = (way: string): string => `behind ${way}`;

/** Key of the suspicion on one circuit's ends at a point. */
export const endsAt = (point: string, circuit: number | undefined): string => `ends ${circuit} at ${point}`;

/** Splits that part the suspicion most evenly come first, and covers off where most of it lies; the rest is left out where there are many. */
export function prune(all: Action[][], installation: Installation, interest: ReadonlyMap<string, number>, situation: Situation): Action[][] {
  const splits = all.filter((a) => a.some((x) => x.do === 'takeOut'));
  const covers = all.filter((a) => a.length === 1 && a[0]?.do === 'open');
  const left = new Set([...worst(covers, MOST_OPENED, ([a]) => interest.get(a?.point ?? '') ?? 0), ...worst(splits, MOST_SPLITS, (actions) => balanceOf(actions, installation, interest, situation))]);
  return all.filter((a) => !left.has(a));
}

/** Of many all but the best; of few none. */
function worst(all: readonly Action[][], most: number, worth: (actions: Action[]) => number): Action[][] {
  if (all.length <= most) return [];
  return all.map((actions) => ({ actions, worth: worth(actions) })).sort((a, b) => b.worth - a.worth).slice(most).map((x) => x.actions);
}

/** Section of a conductor end. */
export const sectionOfKey = (installation: Installation, key: string): string => {
  const place = parsePlace(key);
  return place?.at === 'end' ? (sectionOfEnd(installation, place)?.section.id ?? '') : '';
};

/** Is the section off at one side? At a board its neutral and earth are what comes out: the line stays with its device. */
function apartAt(installation: Installation, section: Section, side: 'a' | 'b', gone: ReadonlySet<string>): boolean {
  const board = findPoint(installation, section[side])?.kind === 'board';
  const cores = board ? section.cores.filter((c) => c.role === 'N' || c.role === 'E') : section.cores;
  return cores.length > 0 && cores.every((c) => gone.has(endKeyOf(section, side, c.id)));
}

/** Smaller of the two shares of suspicion on the sides of a split. */
function balanceOf(actions: readonly Action[], installation: Installation, interest: ReadonlyMap<string, number>, situation: Situation): number {
  // Where a ring is opened at the board too, it is the cut beyond that parts it.
  const cut = [...actions].reverse().find((a) => a.do === 'takeOut');
  if (cut?.do !== 'takeOut') return 0;
  const board = findPoint(installation, cut.point)?.kind === 'board';
  const circuits = circuitsOf(installation);
  const pulled = new Set<number | undefined>(board ? cut.ends.map((k) => circuits.get(sectionOfKey(installation, k))) : []);
  const gone = new Set([...situation.state.out, ...actions.flatMap((a) => (a.do === 'takeOut' ? a.ends : []))]);
  const reached = new Set<string>();
  const points = new Set<string>(board ? [] : [cut.point]);
  const queue = [cut.point];
  // At the board a pull parts one circuit from the others: its own suspicion against theirs.
  if (board) {
    for (const s of installation.sections) if (pulled.has(circuits.get(s.id))) reached.add(s.id);
    for (const p of installation.points) if (pulled.has(circuits.get(p.id))) points.add(p.id);
  }
  while (!board && queue.length) {
    const here = queue.pop() as string;
    for (const e of endsAtPoint(installation, here)) {
      if (gone.has(e.key)) continue;
      reached.add(e.section.id);
      const farSide = e.side === 'a' ? 'b' : 'a';
      const other = e.section[farSide];
      if (points.has(other) || apartAt(installation, e.section, farSide, gone)) continue;
      points.add(other);
      queue.push(other);
    }
  }
  let inside = 0;
  let total = 0;
  for (const s of installation.sections) {
    const share = interest.get(s.id) ?? 0;
    total += share;
    if (reached.has(s.id)) inside += share;
  }
  for (const p of installation.points) {
    const share = interest.get(`at ${p.id}`) ?? 0;
    total += share;
    if (points.has(p.id)) inside += share;
  }
  if (!board) return Math.min(inside, total - inside);
  // A pull at the board also parts the end from its terminal: the end's own suspicion against what lies behind it. What else is suspected at the board is no business of this circuit.
  const own = [...pulled].reduce<number>((sum, c) => sum + (interest.get(endsAt(cut.point, c)) ?? 0), 0);
  return Math.max(Math.min(inside + own, total - inside - own), Math.min(own, inside));
}
