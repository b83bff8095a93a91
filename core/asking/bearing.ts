import type { Suspect } from '../faults';
import { findPoint, findSection, type Installation } from '../installation';
import type { Asked } from '../job';
import { feltAs } from './felt';
import { cleanFactor } from './looking';
import { AT_THE_PLACE, questions, sightFactors, type Question, type Sight } from './questions';
import { traitOf, type Trait } from './traits';
import { whichFactor } from './which';

/** Chance of an answer from a family of fault; 1 for an answer that the question does not have ("don't know"). */
export function chance(q: Question, answer: string, trait: Trait): number {
  const i = q.answers.findIndex((a) => a.id === answer);
  if (i < 0) return 1;
  // Where nothing is wrong a story sounds as where it is something else.
  const row = q.rows[trait] ?? (trait === 'nothing' ? q.rows.elsewhere : undefined) ?? q.others;
  return (row[i] ?? 0) / row.reduce((s, x) => s + x, 0);
}

const complaintFactors: Readonly<Record<NonNullable<Asked['complaint']>, Readonly<Partial<Record<Trait | 'others', number>>>>> = {
  'rcd trips': { lineEarth: 8, neutralEarth: 8, appliance: 8, crossed: 2, astray: 5, device: 4, leakage: 6, overload: 0.2, supply: 0.2, nothing: 4, elsewhere: 1, others: 0.06 },
  'mcb trips': { lineNeutral: 8, lineEarth: 4, appliance: 6, overload: 10, nothing: 2, elsewhere: 1, others: 0.06 },
  dead: { noLine: 6, noNeutral: 6, supply: 4, poorJoint: 1.5, crossed: 1, nothing: 0.5, elsewhere: 1, lineEarth: 0.5, lineNeutral: 0.5, appliance: 0.5, overload: 1, others: 0.15 },
  // On a neutral stand volts, not a shock: where neutral touches earth the metal has the drop of that neutral.
  shock: { noEarth: 4, lineEarth: 4, neutralEarth: 1, lineNeutral: 1, appliance: 4, crossed: 4, supply: 4, nothing: 1, elsewhere: 1, others: 0.15 },
  'flicker or heat': { poorJoint: 7, noLine: 2, noNeutral: 2, overload: 2, supply: 5, nothing: 1, elsewhere: 1, others: 0.15 },
  // Nobody missed anything: what trips, is dead or shocks would have been told. What only a test shows is left.
  inspection: { nothing: 15, lineEarth: 0.4, lineNeutral: 0.2, appliance: 0.5, neutralEarth: 0.7, noLine: 0.5, noNeutral: 0.5, noEarth: 1.5, crossed: 1.5, astray: 0.6, device: 1.5, overload: 0.4, supply: 0.5, others: 1 },
};

/** Can a suspect of this family cause what was complained of? At an inspection, and where nothing was asked, everything counts. */
export function bears(asked: Asked, s: Suspect): boolean {
  const { complaint } = asked;
  if (!complaint || complaint === 'inspection') return true;
  const trait = traitOf(s);
  return trait === null || trait === 'elsewhere' || (complaintFactors[complaint][trait] ?? 0) >= 1;
}

/** How much likelier each family is after what was told and seen, without regard to places. */
export function traitFactor(asked: Asked, trait: Trait): number {
  const table = asked.complaint ? complaintFactors[asked.complaint] : { others: 1 };
  let factor = table[trait] ?? table.others ?? 1;
  for (const q of questions) {
    const answer = asked.answers[q.id];
    if (answer !== undefined && asked.complaint && q.complaints.includes(asked.complaint)) factor *= chance(q, answer, trait);
  }
  for (const s of asked.seen) factor *= sightFactors[s.what as Sight]?.[trait] ?? 1;
  return factor;
}

/** The suspects with their priors shifted by what was told and seen, made to sum to 1 again. Nothing is ever ruled out. */
export function shifted(map: Installation, suspects: readonly Suspect[], asked: Asked): Suspect[] {
  const byTrait = new Map<Trait, number>();
  const factorOf = (s: Suspect): number => {
    const trait = traitOf(s);
    if (trait === null) return cleanFactor(map, s, asked);
    let factor = byTrait.get(trait);
    if (factor === undefined) byTrait.set(trait, (factor = traitFactor(asked, trait)));
    const near = asked.seen.filter((x) => x.place !== null && (sightFactors[x.what as Sight]?.[trait] ?? 1) > 1 && isAt(map, s, x.place)).length;
    return factor * AT_THE_PLACE ** near * cleanFactor(map, s, asked) * whichFactor(map, s, asked);
  };
  const weighed = suspects.map((s) => ({ s, weight: s.prior * factorOf(s) }));
  // Doubts of the record keep their share: no story speaks about them, only a look at the very thing.
  const doubts = weighed.reduce((sum, x) => (traitOf(x.s) === null ? sum + x.weight : sum), 0);
  const total = weighed.reduce((sum, x) => (traitOf(x.s) === null ? sum : sum + x.weight), 0);
  return weighed.map(({ s, weight }) => {
    const felt = feltAs(asked.complaint, s);
    return { ...s, ...maybeOut(map, s, asked), prior: traitOf(s) === null ? weight : (weight / total) * (1 - doubts), ...(felt ? { felt } : {}) };
  });
}

/** Told that it holds with everything unplugged, people leave it so: how likely what is faulty is not in when somebody comes to measure. */
const LEFT_OUT = 0.6;

/** An appliance that nobody has stated may not be in, where it was told that unplugging cured it: until it is plugged in again no reading says anything of it. */
function maybeOut(map: Installation, s: Suspect, asked: Asked): Pick<Suspect, 'beyond'> | null {
  if (s.kind !== 'loadFault' || asked.answers.unplugged !== 'cured') return null;
  const [id = '', part] = s.place.split('.');
  const point = findPoint(map, id);
  const load = point?.elements.find((e) => e.id === part);
  if ((point?.kind !== 'outlet' && point?.kind !== 'undrawn') || load?.kind !== 'load' || !load.implied || !load.unplugs) return null;
  return { beyond: [...(s.beyond ?? []).map((x) => ({ ...x, share: x.share * (1 - LEFT_OUT) })), { share: LEFT_OUT, parts: [], way: s.place, plug: true }] };
}

/** Is the suspect at the place, or on a cable that ends there? */
function isAt(map: Installation, s: Suspect, place: string): boolean {
  const own = s.place.split('.')[0] ?? '';
  if (own === place) return true;
  const section = findSection(map, own);
  return section !== undefined && (section.a === place || section.b === place);
}
