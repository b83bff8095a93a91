/** One trip as the customer wrote it down. `at`: ms since 1970; hours are the customer's own clock. */
export interface Trip {
  readonly at: number;
  readonly hour: number;
  readonly weather: 'dry' | 'wet' | 'unknown';
  /** What was running, in the customer's words. */
  readonly running: readonly string[];
}

export type Pattern =
  | { readonly kind: 'hours'; readonly from: number; readonly to: number; readonly share: number; readonly of: number }
  | { readonly kind: 'wet'; readonly share: number; readonly of: number }
  | { readonly kind: 'appliance'; readonly what: string; readonly share: number; readonly of: number }
  | { readonly kind: 'several'; readonly share: number; readonly of: number }
  | { readonly kind: 'none'; readonly of: number };

const FEWEST = 3;
/** Share of the trips that a pattern must hold for. */
const MOSTLY = 0.65;
const WINDOW_H = 4;
const SEVERAL = 3;

/** What the trips have in common, strongest first. Fewer than three show nothing. */
export function patternsOf(trips: readonly Trip[]): Pattern[] {
  const n = trips.length;
  if (n < FEWEST) return [];
  const found: Pattern[] = [];
  const window = densestHours(trips);
  // Four hours hold a sixth of the trips by chance.
  if (window.share >= MOSTLY) found.push({ kind: 'hours', ...window, of: n });
  const known = trips.filter((t) => t.weather !== 'unknown');
  const wet = known.filter((t) => t.weather === 'wet').length / Math.max(1, known.length);
  if (known.length >= FEWEST && wet >= MOSTLY) found.push({ kind: 'wet', share: wet, of: known.length });
  const counts = new Map<string, { what: string; n: number }>();
  for (const t of trips) for (const what of new Set(t.running.map((x) => x.trim().toLowerCase()))) counts.set(what, { what: counts.get(what)?.what ?? what, n: (counts.get(what)?.n ?? 0) + 1 });
  const each = [...counts.values()].sort((a, b) => b.n - a.n);
  const common = each.filter((x) => x.n / n >= MOSTLY);
  // What is always on says nothing alone: one thing stands out only where not everything does.
  if (common.length === 1 && common[0]) found.push({ kind: 'appliance', what: common[0].what, share: common[0].n / n, of: n });
  const many = trips.filter((t) => t.running.length >= SEVERAL).length / n;
  if (many >= MOSTLY) found.push({ kind: 'several', share: many, of: n });
  return found.length ? found.sort((a, b) => share(b) - share(a)) : [{ kind: 'none', of: n }];
}

const share = (p: Pattern): number => (p.kind === 'none' ? 0 : p.share);

/** The hours of the clock, four in a row, that hold most trips. */
function densestHours(trips: readonly Trip[]): { from: number; to: number; share: number } {
  let best = { from: 0, to: WINDOW_H, share: 0 };
  for (let from = 0; from < 24; from++) {
    const inside = trips.filter((t) => (t.hour - from + 24) % 24 < WINDOW_H).length / trips.length;
    if (inside > best.share) best = { from, to: (from + WINDOW_H) % 24, share: inside };
  }
  return best;
}

/** What the patterns answer to the question when it trips; null where they answer nothing. An answer that was given by a person stands before it. */
export function answerOf(patterns: readonly Pattern[]): 'wet' | 'oneThing' | 'moreLoad' | 'odd' | null {
  const has = (kind: Pattern['kind']): boolean => patterns.some((p) => p.kind === kind);
  if (has('wet')) return 'wet';
  if (has('appliance')) return 'oneThing';
  if (has('several')) return 'moreLoad';
  return has('none') ? 'odd' : null;
}
