import type { SuspectKind } from '../faults';
import type { Action, PlaceShare } from '../planning';
import type { Probe } from '../probes';
import type { Need } from '../safety';
import type { AskView } from './ask';
import type { FactView } from './facts';
import type { HazardView } from './hazards';
import type { Help } from './help';
import type { LookView } from './look';
import type { Surely } from './surely';
import type { LiveStepView } from './liveSteps';

/** What the engine says about a job: plain data, ready for a worker message or a file. Shares are probabilities 0…1. */
export interface Advice {
  readonly placesOpen: number;
  /** Places with their shares, largest first; what is below 1 in 500 is left out. */
  readonly places: readonly PlaceShare[];
  readonly hasReadings: boolean;
  readonly suspects: readonly SuspectView[];
  /** Everything too unlikely for a line of its own. */
  readonly others: { readonly count: number; readonly share: number };
  readonly unknownShare: number;
  /** Share of what joins a conductor of one circuit to another's: such a circuit can be live although its own way is off. */
  readonly fedElsewhere: number;
  /** Two faults explain the readings where one does not; the first stands at the head of the suspects. */
  readonly two: { readonly share: number; readonly first: string } | null;
  /** The record that is wrong, metal that helps: no fault, and taken as given. */
  readonly facts: readonly FactView[];
  readonly cleared: readonly ClearedView[];
  /** What is still possible and would be dangerous with power on, likeliest first. */
  readonly hazards: readonly HazardView[];
  readonly verdict: Verdict;
  readonly fit: Fit;
  readonly steps: readonly StepView[];
  /** Steps with the supply on, best first; they compete with the dead ones in expected minutes. */
  readonly liveSteps: readonly LiveStepView[];
  /** A question that promises a shorter way than any step. */
  readonly ask: AskView | null;
  /** A look that promises a shorter way than any reading. */
  readonly look: LookView | null;
  /** Is the best step one with the supply on? */
  readonly liveFirst: boolean;
  /** What would help where no step is left and nothing is found; empty elsewhere. */
  readonly help: readonly Help[];
  readonly lastChange: LastChange | null;
  /** Readings that hardly any suspect foresaw, by event id. */
  readonly surprising: readonly string[];
  /** Is a broken earth or neutral still possible? */
  readonly earthDoubt: boolean;
}

export interface SuspectView {
  readonly id: string;
  readonly kind: SuspectKind;
  readonly place: string;
  readonly conductors: readonly string[];
  readonly share: number;
  readonly ohm: number | 'open' | null;
  /** Ohms between which nine in ten of its sizes lie; null where it has none. */
  readonly span: readonly [number, number] | null;
  /** Metres from end a of the section, with their uncertainty; null where it has no place along a cable. */
  readonly metres: { readonly at: number; readonly plusMinus: number; readonly from: string; readonly guessed: boolean } | null;
  readonly speakFor: readonly string[];
  readonly speakAgainst: readonly string[];
  readonly explains: Explanation;
}

export type Explanation =
  /** while: only while something runs; perhaps: at some of the sizes that it may have. `share`: chance that it does, over its sizes. */
  | { readonly says: 'yes' | 'while' | 'perhaps' | 'no'; readonly share: number; readonly code: string; readonly points: readonly string[]; readonly figure: number | null; /** What a "perhaps" hangs on first of all. */ readonly hangs: 'size' | 'running' | 'earthing' }
  | { readonly says: 'not asked' };

/**
 * Ruled out at a place: two conductors that do not touch there ("LE"), or one that is whole ("E"), and the reading that says so.
 * `asFar`: only as far as these conductors join the place to where was read, which nothing has shown yet; or as its switches, which nobody has drawn, are on; or the conductor itself as it reads, and not metal beside it that carries in its stead.
 */
export interface ClearedView { readonly place: string; readonly conductors: string; readonly reading: string; readonly asFar: 'all' | 'joined' | 'switched on' | 'metal beside' }

export interface Verdict {
  /** draw: a circuit that is not drawn carries the belief, `place` is its lump; drawNext: going into that circuit promises more than what is in reach; none: go on; repeat: one reading carries it, read again; confirm: an appliance that is still in carries it, unplug and read again, or a poor end where a longer cable would read so too, read another conductor; place: sure of the place; sound: nothing wrong found; enough: nothing found, and going on is dear; two: sure of two places, `place` is the second. */
  readonly says: 'none' | 'repeat' | 'confirm' | 'draw' | 'drawNext' | 'place' | 'sound' | 'enough' | 'unknown' | 'two';
  readonly place: string;
  readonly share: number;
  readonly repeat: string | null;
  /** True when the verdict hangs on lengths or an order that are only guessed. */
  readonly onGuess: boolean;
  /** With `place`: what else is as sure as the place. */
  readonly surely: Surely | null;
  /** With `enough`: expected minutes until it is sure; null where nothing is left to read. */
  readonly minutes?: number | null;
}

export interface Fit {
  /** Even the best account leaves two readings far off, or what no map shows explains them as well. */
  readonly poor: boolean;
  /** Doubts of the recorded state that would explain the readings better, best first. */
  readonly doubts: readonly Pick<SuspectView, 'id' | 'kind' | 'place' | 'conductors' | 'share'>[];
  readonly worstReading: string | null;
}

export interface Outcome {
  readonly low: number;
  readonly high: number;
  readonly above: boolean;
  /** Places this outcome points to, likeliest first; empty: not on this map. */
  readonly places: readonly string[];
  readonly suspects: readonly string[];
  readonly count: number;
  readonly share: number;
}

export interface StepView {
  readonly key: string;
  readonly actions: readonly Action[];
  readonly probes: readonly Probe[];
  readonly minutes: number;
  readonly bits: number;
  readonly needs: readonly Need[];
  readonly outcomes: readonly Outcome[];
  readonly why: { readonly code: 'repeat' | 'check' | 'confirm' | 'compare' | 'opens' | 'splits' | 'pulls' | 'links' | 'cheap' | 'halves'; readonly figure: number };
}

export interface LastChange { readonly reading: string; readonly place: string; readonly from: number; readonly to: number }
