import { type Belief, supportOf } from '../belief';
import type { Suspect } from '../faults';
import { findSection, type Installation } from '../installation';
import { explains } from './explains';
import { againstRecord } from './facts';
import { bestCell, type Now } from './now';
import { sizeOf, type Size } from './size';
import type { SuspectView } from './types';

const SHOWN = 5;

/** The likeliest suspects, with what speaks for and against each. */
export function shortlist(now: Now): SuspectView[] {
  const rest = ofBelief(now);
  const { two, engine, view } = now;
  const s = two ? engine.suspects[two.suspect] : undefined;
  if (!two || !s) return rest;
  const ohm = s.unknown.of === 'nothing' ? null : two.ohm === Infinity ? ('open' as const) : two.ohm;
  const first: SuspectView = { id: s.id, kind: s.kind, place: s.place, conductors: s.conductors, share: two.placeShare, ohm, span: typeof ohm === 'number' ? [ohm, ohm] : null, metres: null, speakFor: two.speakFor, speakAgainst: [], explains: explains(view, s, [two.ohm], two.fraction) };
  return [first, ...rest.filter((x) => x.id !== s.id)];
}

function ofBelief({ view, map, engine, belief, observations, readings, live, liveReadings }: Now): SuspectView[] {
  // What is as it was recorded is nothing wrong, and is counted there.
  const asRecorded = engine.suspects.reduce((sum, s, i) => (againstRecord(s, observations) ? sum : sum + (belief.suspectShare[i] as number)), 0);
  const shareOf = (i: number): number => (belief.suspectShare[i] as number) + (engine.suspects[i]?.kind === 'sound' ? asRecorded : 0);
  const order = [...belief.suspectShare.keys()].filter((i) => engine.suspects[i]?.kind !== 'unknown' && againstRecord(engine.suspects[i] as Suspect, observations)).sort((a, b) => shareOf(b) - shareOf(a));
  const top = observations.length + liveReadings.length === 0 ? [] : order.slice(0, SHOWN).filter((i) => shareOf(i) > 0.01);
  const support = supportOf(engine, belief, observations, top.map((i) => bestCell(belief, i)));
  return top.map((i, n) => {
    const s = engine.suspects[i] as Suspect;
    const c = bestCell(belief, i);
    const row = support[n] ?? [];
    const all = [...row.map((x, j) => ({ id: readings[j]?.event.id ?? '', x })), ...liveReadings.map((r) => ({ id: r.event.id, x: live.support({ test: r.event.test, state: r.state }, c) }))];
    const ids = (keep: (x: number) => boolean): string[] => all.filter((y) => keep(y.x)).sort((a, b) => Math.abs(b.x) - Math.abs(a.x)).slice(0, 3).map((x) => x.id);
    const size = s.unknown.of === 'nothing' ? null : sizeOf(belief, i);
    const ohm = !size ? null : size.thirds[1] === Infinity ? ('open' as const) : size.thirds[1];
    return {
      id: s.id, kind: s.kind, place: s.place, conductors: s.conductors, share: shareOf(i), ohm, span: size && [size.low, size.high],
      metres: metresOf(map, s, belief, c), speakFor: ids((x) => x > SPEAKS_FOR), speakAgainst: ids((x) => x < SPEAKS_AGAINST),
      explains: explains(view, s, sizesToTry(size), belief.d[c] as number),
    };
  });
}

/** ln of how much likelier than of all suspects before any reading a reading is, from which it is said to speak for one, or against it: one that is but a little less likely speaks against nothing. */
const SPEAKS_FOR = 0.5;
const SPEAKS_AGAINST = -Math.log(3);

/** A size that is known well is looked at once. */
const WELL_KNOWN = 1.6;
const sizesToTry = (size: Size | null): readonly number[] => (!size ? [Infinity] : size.high < WELL_KNOWN * size.low || size.low === Infinity ? [size.thirds[1]] : size.thirds);

/** Metres along the section for a contact whose readings tell them; the uncertainty is the belief's own. */
function metresOf(map: Installation, s: Suspect, belief: Belief, c: number): SuspectView['metres'] {
  if (s.site.on !== 'cable' || belief.cells.along[c] !== 1) return null;
  const section = findSection(map, s.site.section);
  if (!section) return null;
  const sd = Math.min(0.29, 1 / Math.sqrt(belief.precision[6 * c + 2] as number));
  if (sd > 0.24) return null;
  return { at: (belief.d[c] as number) * section.lengthM, plusMinus: 2 * sd * section.lengthM, from: section.a, guessed: !section.lengthKnown };
}
