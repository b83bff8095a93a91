import type { Pattern } from '../diary';
import { asksWhichPart, SEVERAL, THING, type Danger, type Shift, type Sight, type Trait } from '../asking';
import { labelOfWay, protectionsOf, type Installation } from '../installation';
import type { Complaint } from '../job';
import { deviceWords } from './devices';
import { firstCapital } from './places';

interface QuestionWords { readonly ask: string; readonly answers: Readonly<Record<string, string>>; readonly because: Readonly<Record<string, string>> }

/** Question, answers, and how an answer is told back: "… because it trips in the wet". */
export const questionWords: Readonly<Record<string, QuestionWords>> = {
  smell: { ask: 'Smell of burning, heat, smoke, crackling?', answers: { none: 'None', burning: 'Yes, or there was' }, because: { none: 'nothing smells or is hot', burning: 'something burned or got hot' } },
  brightDim: { ask: 'Do lamps elsewhere go bright or dim by turns?', answers: { no: 'No', everywhere: 'Yes, in the whole building' }, because: { no: 'the rest of the building is steady', everywhere: 'lamps change in the whole building' } },
  tripsWhen: {
    ask: 'When does it trip?', answers: { atOnce: 'At once, cannot be reset', oneThing: 'When one thing is used', moreLoad: 'When more is switched on', wet: 'In rain, steam or damp', odd: 'At odd times' },
    because: { atOnce: 'it trips at once', oneThing: 'it trips with one thing', moreLoad: 'it trips when more is on', wet: 'it trips in the wet', odd: 'it trips at odd times' },
  },
  went: { ask: 'Which device tripped?', answers: {}, because: {} },
  where: { ask: 'Which circuit is it on?', answers: { [SEVERAL]: 'More than one' }, because: { [SEVERAL]: 'it is on more than one circuit' } },
  thing: { ask: 'Which circuit is that thing on?', answers: {}, because: {} },
  withIt: {
    ask: 'Did anything else go with it?', answers: { alone: 'It alone', breaker: 'A breaker too', otherRcd: 'Another RCD too' },
    because: { alone: 'it trips alone', breaker: 'a breaker trips with it', otherRcd: 'another RCD trips with it' },
  },
  unplugged: { ask: 'Everything unplugged: does it hold?', answers: { cured: 'Then it holds', still: 'It still trips' }, because: { cured: 'it holds with everything unplugged', still: 'it trips with everything unplugged' } },
  breakerWhen: {
    ask: 'When does it trip?', answers: { atOnce: 'At once', switching: 'When something is switched on', minutes: 'After minutes of use' },
    because: { atOnce: 'it trips at once', switching: 'it trips on switching something', minutes: 'it trips after minutes' },
  },
  howMuch: {
    ask: 'What is dead?', answers: { all: 'All of the circuit', beyond: 'Part of it', onePoint: 'One point', comesAndGoes: 'It comes and goes' },
    because: { all: 'the whole circuit is dead', beyond: 'a part is dead', onePoint: 'one point is dead', comesAndGoes: 'it comes and goes' },
  },
  lineThere: { ask: 'Is line there where it is dead? Covers on.', answers: { line: 'Line is there', noLine: 'No line' }, because: { line: 'line is there', noLine: 'no line is there' } },
  feltWhere: {
    ask: 'Where was it felt?', answers: { oneThing: 'At one thing', several: 'At several things', service: 'At pipes, taps or the service itself' },
    because: { oneThing: 'it was felt at one thing', several: 'it was felt in several places', service: 'it was felt at the service' },
  },
  moves: {
    ask: 'Does anything change it?', answers: { moved: 'Moving or knocking it', load: 'More load', neither: 'Neither' },
    because: { moved: 'it changes when moved', load: 'it changes with the load', neither: 'neither movement nor load changes it' },
  },
  since: {
    ask: 'Since when?', answers: { suddenly: 'Suddenly', work: 'Since work was done', worse: 'Slowly getting worse', always: 'It always was so' },
    because: { suddenly: 'it came suddenly', work: 'work was done before it', worse: 'it gets slowly worse', always: 'it always was so' },
  },
  weather: { ask: 'Rain, steam or damp about?', answers: { dry: 'All dry', wet: 'Wet or damp' }, because: { dry: 'all is dry', wet: 'water is about' } },
};

/** An answer as it is shown: devices and circuits of the board by their names. */
export const answerWords = (map: Installation, question: string, answer: string): string => questionWords[question]?.answers[answer] ?? (asksWhichPart(question) ? firstCapital(deviceWords(map, answer)) : 'An answer that is not known here');

/** What the part of the board that was told says: which ways are looked at first. Null where the answer is of another kind. */
export function whichText(map: Installation, question: string, answer: string): string | null {
  const d = asksWhichPart(question) ? protectionsOf(map).find((x) => x.id === answer) : undefined;
  if (!d) return null;
  if (question === THING) return `What line touches on ${labelOfWay(map, d.id)}, and what hangs there, became likelier. A neutral on earth may be anywhere: any load brings it out.`;
  const own = protectionsOf(map).filter((x) => x.kind !== 'rcd' && x.kind !== 'main' && d.carries.includes(x.id)).map((x) => x.name);
  return `${own.length === 1 ? `${own[0]} became` : `Its ${own.length} ways became`} likelier, and the rest much less likely.`;
}

export const traitWords: Readonly<Record<Trait, string>> = {
  lineEarth: 'line touches earth', neutralEarth: 'neutral touches earth', lineNeutral: 'line touches neutral', appliance: 'an appliance or fitting', noLine: 'line broken', noNeutral: 'neutral broken',
  noEarth: 'earth broken', poorJoint: 'a poor joint', crossed: 'conductors crossed', astray: 'a neutral that goes astray', device: 'the device itself', leakage: 'leakage that adds up', overload: 'overload', supply: 'the supply', nothing: 'nothing that lasts', elsewhere: 'not in this circuit’s wiring',
};

export const sightWords: Readonly<Record<Sight, string>> = {
  screws: 'Fresh screws or shelves', water: 'Water or its marks', rodents: 'Gnawing, droppings', cableChange: 'Cable changes its type', scorch: 'Scorched or melted', amateur: 'Unskilled work', crushed: 'Crushed or pinched cable', loose: 'An end that moves',
};

export const dangerWords: Readonly<Record<Danger, { readonly title: string; readonly lines: readonly string[] }>> = {
  shock: { title: 'Someone had a shock', lines: ['Stop use, switch off at the origin, tell everyone there. Send the person to a doctor.', 'Line may stand on metalwork, the installation’s own earth included: prove to an independent earth.'] },
  burning: { title: 'It burns or burned', lines: ['Switch off now and leave it off until the place is found. Fire that is not out: get everyone out and call the fire brigade.', 'A joint that was hot is replaced, not tightened.'] },
  supplyNeutral: { title: 'The supply neutral may be lost', lines: ['Switch off the main switch now: appliances burn out, and earthed metal can be live.', 'Not yours to mend: call the network operator, and tell the people there to touch nothing metal.'] },
  service: { title: 'The service may be damaged', lines: ['Keep everyone away from pipes, taps and the service head. Switch off only if it can be reached safely.', 'Not yours to mend: call the network operator.'] },
};

const firstAdviceWords: Readonly<Record<Complaint, string>> = {
  'rcd trips': 'Unplug what can be unplugged first: appliances are the commonest cause. On a board, work the devices: all ways off, then one back at a time. If it still trips, make it dead and test insulation.',
  'mcb trips': 'Do not close it to see. Loads out, make it dead, then L–N and L–E.',
  dead: 'Note which points are dead and which still work. Then make it dead and read from the board.',
  shock: 'Stop use now. The installation’s own earth may be the live part: prove to an independent earth.',
  'flicker or heat': 'A joint that heats is replaced, not tightened. Read continuity point by point; rock and wiggle.',
  inspection: 'Begin with insulation at the board, then continuity end to end.',
};

const traitAdvice: Readonly<Record<Trait, string>> = {
  lineEarth: 'Loads out, make it dead, and read insulation L–E at the board.',
  neutralEarth: 'Switching off does not part a neutral from earth: make it dead, take the neutral out of its bar, and read N–E.',
  lineNeutral: 'Do not close it to see. Loads out, make it dead, then L–N.',
  appliance: 'Take out or unplug one thing after another before any cover comes off.',
  noLine: 'Make it dead; L from the board to the last point that works and the first that does not.',
  noNeutral: 'What is dead may still be live. Make it dead; N from the board to the first dead point.',
  noEarth: 'Until the earth is proved, metal there may be live. Make it dead, to an earth of your own, and read E point by point.',
  poorJoint: 'Continuity point by point, and again while it is rocked. A joint that was hot is replaced.',
  crossed: 'Read each conductor end to end: it comes out under another’s name.',
  astray: 'See which devices trip as one thing starts; clamp each way: a neutral that goes astray shows its load on two devices.',
  device: 'Ramp the device with its outgoing conductors out: below half of its rating, or at half of it, the device has failed.',
  leakage: 'Clamp the leakage of each way, add it up against a third of the device, and follow the branch with the most.',
  overload: 'Clamp the line while everything runs, against the rating; look for what was added lately.',
  supply: 'Measure at the origin first: line to neutral, and the earth terminal to an earth of your own. A lost supply conductor is the network operator’s.',
  nothing: 'It may be that nothing is wrong any more. Test all the same: dead tests first, then what ran when it happened.',
  elsewhere: 'Look at the device and its load before the wiring: what runs on it, what leaks, is the device itself good?',
};

/** The first advice: by complaint; sharper once a family stands out, or what goes first with the supply `on`, by its title. */
export function firstAdvice(complaint: Complaint, likeliest: { readonly trait: Trait; readonly share: number } | undefined, answered: boolean, on?: string): string {
  if (answered && on) return `With the supply on: ${on}${on.endsWith('?') ? '' : '.'}`;
  return answered && likeliest && likeliest.share > 0.45 ? traitAdvice[likeliest.trait] : firstAdviceWords[complaint];
}

/** "2 things became likelier, because it trips in the wet: line touches earth, neutral touches earth." */
export function shiftText(shift: Shift, because: string): string {
  const names = (list: Shift['likelier']): string => list.map((s) => traitWords[s.trait]).join(', ');
  const n = shift.likelier.length;
  if (n) return `${n} ${n === 1 ? 'thing' : 'things'} became likelier, because ${because}: ${names(shift.likelier)}.`;
  const less = shift.lessLikely.length;
  if (less) return `${less} ${less === 1 ? 'thing' : 'things'} became less likely, because ${because}: ${names(shift.lessLikely)}.`;
  return `It changes little that ${because}.`;
}

/** What the trips of a diary have in common. */
export function patternWords(p: Pattern): string {
  const of = (share: number, n: number): string => `${Math.round(share * n)} of ${n}`;
  switch (p.kind) {
    case 'hours': return `${of(p.share, p.of)} between ${p.from} and ${p.to} o’clock: look for what runs or happens then.`;
    case 'wet': return `${of(p.share, p.of)} in the wet: damp in insulation. Split while it is still bad.`;
    case 'appliance': return `${of(p.share, p.of)} with ${p.what} running: take it out first.`;
    case 'several': return `${of(p.share, p.of)} with several things running: leakage or neutral current that adds up.`;
    case 'none': return `${p.of} trips with nothing in common: the device itself, or an intermittent.`;
  }
}
