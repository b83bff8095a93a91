import type { Complaint } from '../job';
import type { Trait } from './traits';

/** What must be done before anything else. */
export type Danger = 'shock' | 'burning' | 'supplyNeutral' | 'service';

/** How often each answer comes, by family of fault; a family without a row answers like `others`. Rows are weights, made to sum to 1. */
export interface Question {
  readonly id: string;
  readonly complaints: readonly Complaint[];
  /** `ofTwo`: it speaks of another residual device, where there is one. */
  readonly answers: readonly { readonly id: string; readonly danger?: Danger; readonly ofTwo?: boolean }[];
  readonly rows: Readonly<Partial<Record<Trait, readonly number[]>>>;
  readonly others: readonly number[];
  /** Asked of a board alone: it speaks of its devices. */
  readonly ofBoard?: boolean;
  /** Danger questions come first, whatever they tell. */
  readonly first?: boolean;
}

const all: readonly Complaint[] = ['rcd trips', 'mcb trips', 'dead', 'shock', 'flicker or heat'];

/**
 * The questions, with how often each answer is heard from each family of fault. The rows put the signatures of the
 * field guide (section 4) into numbers; they are rough on purpose: no answer ever rules anything out.
 */
export const questions: readonly Question[] = [
  {
    id: 'smell', complaints: ['shock', 'flicker or heat', 'dead', 'mcb trips'], first: true,
    answers: [{ id: 'none' }, { id: 'burning', danger: 'burning' }],
    rows: { poorJoint: [5, 5], lineNeutral: [7, 3], noLine: [8, 2], noNeutral: [8, 2] }, others: [9, 1],
  },
  {
    id: 'brightDim', complaints: ['flicker or heat', 'shock', 'dead'], first: true,
    answers: [{ id: 'no' }, { id: 'everywhere', danger: 'supplyNeutral' }],
    rows: { elsewhere: [5, 5], supply: [4, 6] }, others: [98, 2],
  },
  {
    id: 'tripsWhen', complaints: ['rcd trips'],
    answers: [{ id: 'atOnce' }, { id: 'oneThing' }, { id: 'moreLoad' }, { id: 'wet' }, { id: 'odd' }],
    rows: {
      lineEarth: [60, 8, 4, 14, 14], neutralEarth: [25, 10, 35, 12, 18], appliance: [15, 65, 5, 5, 10], crossed: [50, 20, 20, 2, 8], noEarth: [15, 15, 15, 15, 40], elsewhere: [10, 15, 30, 10, 35],
      leakage: [5, 15, 35, 5, 40], device: [15, 10, 10, 5, 60], astray: [10, 55, 30, 2, 3],
      // What cannot be reset has a cause: where nothing is wrong it was some moment that is over.
      nothing: [3, 15, 32, 12, 38],
    }, others: [15, 20, 20, 15, 30],
  },
  {
    id: 'withIt', complaints: ['rcd trips'], ofBoard: true,
    answers: [{ id: 'alone' }, { id: 'breaker' }, { id: 'otherRcd', ofTwo: true }],
    rows: { lineEarth: [80, 17, 3], appliance: [90, 7, 3], neutralEarth: [95, 2, 3], astray: [60, 2, 38], supply: [50, 5, 45], device: [97, 1, 2] }, others: [92, 4, 4],
  },
  {
    id: 'unplugged', complaints: ['rcd trips', 'mcb trips'],
    answers: [{ id: 'cured' }, { id: 'still' }],
    rows: { appliance: [85, 15], lineEarth: [8, 92], lineNeutral: [8, 92], neutralEarth: [40, 60], elsewhere: [45, 55], leakage: [70, 30], device: [30, 70], overload: [85, 15], astray: [50, 50] }, others: [20, 80],
  },
  {
    id: 'breakerWhen', complaints: ['mcb trips'],
    answers: [{ id: 'atOnce' }, { id: 'switching' }, { id: 'minutes' }],
    rows: { lineNeutral: [80, 15, 5], lineEarth: [80, 15, 5], appliance: [35, 50, 15], elsewhere: [5, 35, 60], poorJoint: [5, 15, 80], overload: [2, 18, 80], nothing: [3, 35, 62] }, others: [30, 40, 30],
  },
  {
    id: 'howMuch', complaints: ['dead'],
    answers: [{ id: 'all' }, { id: 'beyond' }, { id: 'onePoint' }, { id: 'comesAndGoes' }],
    rows: { noLine: [22, 42, 26, 10], noNeutral: [20, 45, 25, 10], appliance: [2, 3, 85, 10], poorJoint: [10, 25, 20, 45], elsewhere: [55, 15, 20, 10], lineNeutral: [80, 10, 5, 5], lineEarth: [80, 10, 5, 5] }, others: [35, 30, 25, 10],
  },
  {
    id: 'lineThere', complaints: ['dead'],
    answers: [{ id: 'line' }, { id: 'noLine' }],
    // Told by whoever looked with what was at hand: one in ten is wrong.
    rows: { noNeutral: [88, 12], noLine: [12, 88], poorJoint: [60, 40], appliance: [85, 15], lineNeutral: [12, 88], lineEarth: [12, 88] }, others: [50, 50],
  },
  {
    id: 'feltWhere', complaints: ['shock'],
    answers: [{ id: 'oneThing' }, { id: 'several' }, { id: 'service', danger: 'service' }],
    rows: { appliance: [85, 13, 2], noEarth: [45, 50, 5], lineEarth: [40, 55, 5], crossed: [55, 40, 5], elsewhere: [15, 50, 35] }, others: [50, 45, 5],
  },
  {
    id: 'moves', complaints: ['flicker or heat', 'dead'],
    answers: [{ id: 'moved' }, { id: 'load' }, { id: 'neither' }],
    rows: { poorJoint: [40, 45, 15], noLine: [35, 10, 55], noNeutral: [35, 10, 55], appliance: [25, 15, 60], elsewhere: [5, 25, 70] }, others: [10, 15, 75],
  },
  {
    id: 'since', complaints: all,
    answers: [{ id: 'suddenly' }, { id: 'work' }, { id: 'worse' }, { id: 'always' }],
    rows: {
      lineEarth: [45, 35, 17, 3], neutralEarth: [35, 40, 10, 15], lineNeutral: [60, 35, 4, 1], appliance: [65, 5, 25, 5], noLine: [55, 35, 8, 2], noNeutral: [55, 35, 8, 2], noEarth: [20, 30, 5, 45],
      poorJoint: [25, 15, 55, 5], crossed: [2, 60, 0.5, 37.5], elsewhere: [35, 20, 30, 15], astray: [5, 80, 2, 13], leakage: [20, 15, 55, 10], device: [45, 20, 30, 5], overload: [35, 5, 40, 20], supply: [80, 5, 12, 3],
    }, others: [40, 25, 25, 10],
  },
  {
    id: 'weather', complaints: ['rcd trips', 'mcb trips', 'shock'],
    answers: [{ id: 'dry' }, { id: 'wet' }],
    rows: { lineEarth: [55, 45], neutralEarth: [60, 40], appliance: [80, 20] }, others: [85, 15],
  },
];

/** Things that eyes find; each speaks for some families, and more so at the place where it was seen. */
export const sights = ['screws', 'water', 'rodents', 'cableChange', 'scorch', 'amateur', 'crushed', 'loose'] as const;
export type Sight = (typeof sights)[number];

export const sightFactors: Readonly<Record<Sight, Readonly<Partial<Record<Trait, number>>>>> = {
  screws: { lineEarth: 2, neutralEarth: 2, lineNeutral: 2, noLine: 1.5, noNeutral: 1.5, noEarth: 1.5 },
  water: { lineEarth: 2, neutralEarth: 2, lineNeutral: 1.3, poorJoint: 1.3 },
  rodents: { lineEarth: 2, neutralEarth: 2, lineNeutral: 2, noLine: 1.5, noNeutral: 1.5, noEarth: 1.5 },
  cableChange: { poorJoint: 1.8, noLine: 1.8, noNeutral: 1.8, noEarth: 1.8 },
  scorch: { poorJoint: 3, lineNeutral: 1.5, noLine: 1.5, noNeutral: 1.5 },
  amateur: { crossed: 3, noEarth: 2, neutralEarth: 1.5, poorJoint: 1.5 },
  crushed: { lineEarth: 2, neutralEarth: 2, lineNeutral: 2 },
  loose: { poorJoint: 4, noLine: 3, noNeutral: 3, noEarth: 3 },
};

/** How much likelier a family gets at the very place of a sight that speaks for it. */
export const AT_THE_PLACE = 6;
