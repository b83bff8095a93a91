import { asToldPoles, nextQuestion, SEVERAL, THING, WENT, WHERE } from '../../core/asking';
import type { Installation } from '../../core/installation';
import type { Asked, Complaint, EventBody } from '../../core/job';
import type { Random } from '../../core/numeric';
import type { Symptoms } from './nature';
import type { House, Wrong } from './house';

/** What the customer complains of: what the house really does, by what is felt most. A house that does nothing is inspected, or tripped once. */
export function complaintOf(s: Symptoms, anythingWrong: boolean, random: Random): Complaint {
  if (s.metalVolt > 60) return 'shock';
  if (s.residual) return 'rcd trips';
  if (s.over) return 'mcb trips';
  if (s.dead.length) return 'dead';
  if (s.hotWatt > 2) return 'flicker or heat';
  // What nobody feels is met at an inspection; a device that tripped once and never again has often nothing behind it.
  return random.chance(anythingWrong ? 0.15 : 0.5) ? 'rcd trips' : 'inspection';
}

/** Does the house really do what was complained of? */
export function felt(complaint: Complaint, s: Symptoms): boolean {
  switch (complaint) {
    case 'rcd trips': return s.residual;
    case 'mcb trips': return s.over;
    case 'dead': return s.dead.length > 0;
    case 'shock': return s.metalVolt > 50 || s.earths.length > 0;
    case 'flicker or heat': return s.hotWatt > 2;
    default: return true;
  }
}

/** One person in ten does not know, or is wrong. */
const ERRS = 0.1;

/** Answers to what the app asks, from what the house does; told by a person who errs. */
export function tell(map: Installation, asked: Asked, s: Symptoms, wrongs: readonly Wrong[], house: House, random: Random): EventBody[] {
  const events: EventBody[] = [];
  let now = asked;
  for (let i = 0; i < 6; i++) {
    const q = nextQuestion(map, now);
    if (!q) break;
    const ids = q.answers.map((a) => a.id);
    const plain = q.id === WHERE ? feltOn(asked.complaint, s, house) : q.id === THING ? thingOn(wrongs, house) : answerTo(q.id, s, wrongs, random);
    const known = plain !== null && ids.includes(plain) ? plain : random.pick(q.answers.filter((a) => !a.danger)).id;
    const answer = random.chance(ERRS) ? (random.chance(0.5) ? '' : random.pick(q.answers.filter((a) => !a.danger)).id) : known;
    now = { ...now, answers: { ...now.answers, [q.id]: answer } };
    events.push({ type: 'answered', question: q.id, answer });
  }
  // The electrician at the board sees whether it stands off.
  if (s.idleTrip) events.push(...asToldPoles(map, asked, now).map((p): EventBody => ({ type: 'switched', ...p })));
  return events;
}

/** The circuit where it is dead, hot or shocks, by the label on the board. */
function feltOn(complaint: Complaint | null, s: Symptoms, house: House): string | null {
  const points = complaint === 'dead' ? s.dead : complaint === 'shock' ? (s.metal.length ? s.metal : s.earths) : [s.hot];
  const ways = house.ways.filter((w) => w.points.some((p) => points.includes(p)));
  return ways.length > 1 ? SEVERAL : ways[0] ? house.labelOf(ways[0].way) : null;
}

/** The circuit of the one thing that trips it, by the label on the board. */
function thingOn(wrongs: readonly Wrong[], house: House): string | null {
  const places = wrongs.filter((w) => ['applianceEarth', 'applianceShort', 'borrowed'].includes(w.family)).flatMap((w) => w.places.map((p) => p.split('.')[0] ?? ''));
  const way = house.ways.find((w) => places.some((p) => w.points.includes(p)));
  return way ? house.labelOf(way.way) : null;
}

function answerTo(question: string, s: Symptoms, wrongs: readonly Wrong[], random: Random): string | null {
  const has = (...families: string[]): boolean => wrongs.some((w) => families.includes(w.family));
  switch (question) {
    case 'smell': return s.hotWatt > 10 && random.chance(0.5) ? 'burning' : 'none';
    case 'brightDim': return 'no';
    case 'tripsWhen': return s.idleTrip ? 'atOnce' : has('applianceEarth', 'borrowed') ? 'oneThing' : s.residual ? 'moreLoad' : 'odd';
    case WENT: return s.tripped.length ? random.pick(s.tripped) : null;
    case 'withIt': return s.tripped.length > 1 ? (s.over ? 'breaker' : 'otherRcd') : 'alone';
    case 'unplugged': return has('applianceEarth', 'applianceShort') ? 'cured' : has('leakage') ? 'cured' : 'still';
    case 'breakerWhen': return s.idleTrip ? 'atOnce' : 'switching';
    case 'howMuch': return s.dead.length > 1 ? 'beyond' : 'onePoint';
    case 'feltWhere': return s.earths.length > 1 ? 'several' : 'oneThing';
    case 'moves': return has('poor') ? (random.chance(0.5) ? 'load' : 'moved') : 'neither';
    case 'since': return has('borrowed', 'otherBar') ? 'work' : has('poor', 'leakage') ? 'worse' : 'suddenly';
    case 'weather': return random.chance(0.25) ? 'wet' : 'dry';
    default: return null;
  }
}
