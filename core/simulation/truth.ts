import type { Fault } from '../faults';
import type { Installation, Section } from '../installation';
import { compileNetwork, copperOhmPerM, resistanceBetween, type Physics, type Resistance } from '../network';
import { seededRandom, type Random } from '../numeric';
import { displayOf, isAbove, meter, type Displayed, type TestFunction } from '../tester';
import type { WorkState } from '../workstate';
import { tiedState, type Probe } from '../probes';

/** How far a truth strays from its plan. */
export interface Scatter {
  /** Relative s.d. of each section's length. */
  readonly lengthSd: number;
  readonly insulationMedianOhmM: number;
  /** S.d. in ln of the whole circuit's insulation, and relative s.d. of each section's. */
  readonly insulationSd: number;
  readonly sectionInsulationSd: number;
  /** Share of readings that are plain wrong. */
  readonly slipShare: number;
}

export const lifelike: Scatter = { lengthSd: 0.08, insulationMedianOhmM: 2e11, insulationSd: 1, sectionInsulationSd: 0.3, slipShare: 0 };

/** The installation as it really is: other lengths, terminations and insulation than the plan, and the hidden faults. */
export interface Truth {
  readonly installation: Installation;
  readonly faults: readonly Fault[];
  readonly physics: Physics;
}

export function drawTruth(plan: Installation, faults: readonly Fault[], scatter: Scatter, random: Random): Truth {
  const sections = plan.sections.map((s): Section => ({ ...s, lengthM: s.lengthM * Math.max(0.3, 1 + scatter.lengthSd * random.normal()) }));
  const scale = Math.exp(scatter.insulationSd * random.normal());
  const insulation = new Map(sections.map((s) => [s.id, scatter.insulationMedianOhmM * scale * Math.max(0.2, 1 + scatter.sectionInsulationSd * random.normal())]));
  const seed = random.integer(1, 1e9);
  const terminations = new Map<string, number>();
  const physics: Physics = {
    ohmPerM: copperOhmPerM,
    terminationOhm: (end) => {
      let ohm = terminations.get(end);
      if (ohm === undefined) {
        ohm = seededRandom(seed ^ hash(end)).uniform(0.002, 0.005);
        terminations.set(end, ohm);
      }
      return ohm;
    },
    faceOhm: 0.004, insulationOhmM: (id) => insulation.get(id) ?? scatter.insulationMedianOhmM, pointInsulationOhm: 1e12,
    linkOhm: 0.01, wayOhm: 0.002, switchOhm: 0.005, contactOhmMin: 1e-4,
  };
  return { installation: { ...plan, sections }, faults, physics };
}

function hash(text: string): number {
  let h = 2166136261;
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 16777619);
  return h >>> 0;
}

/** What is really between the leads, in ohms. */
export function trueResistance(truth: Truth, state: WorkState, probe: Probe): Resistance {
  const network = compileNetwork(truth.installation, tiedState(state, probe), truth.faults, truth.physics);
  const a = network.index.get(probe.from[0] ?? '');
  const b = network.index.get(probe.to[0] ?? '');
  if (a === undefined || b === undefined) return 'open';
  return resistanceBetween(network, a, b);
}

/** How far off an insulation tester is near nothing, as a share. */
const COARSE = 0.1;

/** A tester with errors of its own. One instrument: gain and residual are drawn once, the slips anew each time. */
export class SimulatedTester {
  private readonly gain: Record<TestFunction, number>;
  private readonly coarse: number;
  private readonly residualOhm: number;
  private readonly seen = new Map<string, Resistance>();

  constructor(
    private readonly truth: Truth,
    private readonly random: Random,
    private readonly slipShare: number,
  ) {
    this.gain = { continuity: 1 + random.uniform(-0.02, 0.02), insulation: 1 + random.uniform(-0.03, 0.03) };
    this.coarse = 1 + random.uniform(-COARSE, COARSE);
    this.residualOhm = random.uniform(-0.02, 0.02);
  }

  read(state: WorkState, probe: Probe): Displayed {
    const key = JSON.stringify([state.out, state.off, state.loadsOut, state.links, probe]);
    let ohm = this.seen.get(key);
    if (ohm === undefined) {
      ohm = trueResistance(this.truth, state, probe);
      this.seen.set(key, ohm);
    }
    const shown = this.display(probe.fn, ohm);
    if (!this.random.chance(this.slipShare)) return shown;
    if (this.random.chance(0.5)) return { above: meter[probe.fn].topOhm };
    const base = isAbove(shown) ? 0 : shown.ohm;
    return displayOf(probe.fn, base + 0.3 * 10 ** this.random.uniform(0, 3));
  }

  private display(fn: TestFunction, ohm: Resistance): Displayed {
    const range = meter[fn];
    if (ohm === 'open') return { above: range.topOhm };
    const gain = fn === 'insulation' && ohm < range.coarseBelowOhm ? this.coarse : this.gain[fn];
    // An instrument is off by its own digits, and from one reading to the next by one at the most.
    const drawn = this.random.integer(-range.digits, range.digits);
    const digits = (Math.round(((this.coarse - 1) / COARSE) * (range.digits - 1)) + (Math.abs(drawn) > 1 ? Math.sign(drawn) : 0)) * range.digitOhm(ohm);
    return displayOf(fn, Math.max(0, ohm * gain + (fn === 'continuity' ? this.residualOhm : 0) + digits));
  }
}
