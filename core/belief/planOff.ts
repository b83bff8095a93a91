import { Stretch, type Gaussian, type Tail } from './tails';

/** Things of a plan that may be off together: in a house whose areas nobody stated several are. */
const MOST_TOGETHER = 4;

/**
 * What may be far off on the plan, each weighed by its chance; where one carries the readings it is taken as so, and the next is
 * looked for beside it.
 */
export class PlanOff {
  /** Where it leaves the unknowns of the cell, as steps from where they stand, and their precision; null where nothing that is off carries it. */
  step: Float64Array | null = null;
  readonly h = new Float64Array(6);
  /** Things that were taken as off. */
  taken: readonly number[] = [];
  /** The readings with everything that was taken as off given. */
  given: Gaussian | null = null;
  private readonly stretch = new Stretch();
  private readonly steps = new Float64Array(3);
  private readonly direction: Float64Array;
  private readonly beside: readonly Beside[];

  /** `most`: rows there may be. */
  constructor(private readonly tails: readonly Tail[], most: number) {
    this.direction = new Float64Array(most);
    this.beside = Array.from({ length: MOST_TOGETHER - 1 }, () => new Beside(most));
  }

  /** ln gained. `apart`: things that are weighed elsewhere. `grows`: fills the ohms of each row that grow with one thing; false where no row does. `residual`, `jacobian`: of the rows, these by threes. */
  weigh(all: Gaussian, residual: Float64Array, jacobian: Float64Array, grows: (i: number, into: Float64Array) => boolean, apart: readonly number[] = []): number {
    const { tails, direction, stretch } = this;
    this.step = null;
    let at = { all, residual };
    this.given = all;
    let gained = 0;
    const taken: number[] = [];
    this.taken = taken;
    for (let k = 0; ; k++) {
      // Things that the readings show to be as drawn are so each for itself; of those that may be off one carries the readings.
      let [asDrawn, total, mostly, most] = [0, 1, -1, 0];
      for (const [i, { share, variance }] of tails.entries()) {
        if (share === 0 || taken.includes(i) || apart.includes(i) || !grows(i, direction)) continue;
        const weight = share * (Math.exp(Math.min(stretch.gainAlong(at.all, direction, variance), 600)) - 1);
        if (weight < 0) asDrawn += Math.log1p(weight);
        else total += weight;
        if (weight > most) [mostly, most] = [i, weight];
      }
      gained += Math.log(total) + asDrawn;
      const tail = tails[mostly];
      if (!tail || most <= 0.5 * total) return gained;
      grows(mostly, direction);
      stretch.along(at.all, direction, tail.variance);
      this.steps.set(stretch.step);
      this.step = this.steps;
      this.h.set(stretch.h);
      taken.push(mostly);
      const next = this.beside[k];
      if (!next) return gained;
      at = next.given(at.all, at.residual, jacobian, stretch, direction, tail.variance);
      this.given = at.all;
    }
  }
}

/** The readings with one thing that is off given: its factor is one more unknown of them all, as likely near what suits best as its own spread has it. */
class Beside {
  private readonly inverse: Float64Array;
  private readonly solved: Float64Array;
  private readonly ohm: Float64Array;
  private readonly residual: Float64Array;
  private readonly u: Float64Array;
  private readonly g = new Float64Array(3);
  private readonly h = new Float64Array(6);

  constructor(private readonly most: number) {
    this.inverse = new Float64Array(most * most);
    this.solved = new Float64Array(most * 4);
    this.ohm = new Float64Array(most);
    this.residual = new Float64Array(most);
    this.u = new Float64Array(most);
  }

  given(all: Gaussian, residual: Float64Array, jacobian: Float64Array, { w, change, slope }: Stretch, grows: Float64Array, variance: number): { readonly all: Gaussian; readonly residual: Float64Array } {
    const { count: m } = all;
    const { inverse, u, most } = this;
    // C + σ² v vᵀ, inverted by Sherman and Morrison.
    let across = 1 / variance;
    for (let a = 0; a < m; a++) {
      let sum = 0;
      for (let b = 0; b < m; b++) if (grows[b] !== 0) sum += (all.inverse[a * all.stride + b] as number) * (slope[b] as number);
      u[a] = sum;
    }
    for (let a = 0; a < m; a++) if (grows[a] !== 0) across += (slope[a] as number) * (u[a] as number);
    for (let a = 0; a < m; a++) {
      for (let b = 0; b < m; b++) inverse[a * most + b] = (all.inverse[a * all.stride + b] as number) - ((u[a] as number) * (u[b] as number)) / across;
      const moved = grows[a] === 0 ? 0 : (change[a] as number) - w * (slope[a] as number);
      this.residual[a] = (residual[a] as number) - moved;
      this.ohm[a] = Math.max(0, (all.ohm[a] as number) + (grows[a] as number) * (Math.exp(w) - 1));
    }
    const { g, h, solved } = this;
    g.set(all.g);
    h.set(all.h);
    for (let a = 0; a < m; a++)
      for (let column = 0; column < 4; column++) {
        let sum = 0;
        for (let b = 0; b < m; b++) sum += (inverse[a * most + b] as number) * (column === 0 ? (this.residual[b] as number) : (jacobian[3 * b + column - 1] as number));
        const more = sum - (all.solved[4 * a + column] as number);
        solved[4 * a + column] = sum;
        const [jt, jd, js] = [jacobian[3 * a] as number, jacobian[3 * a + 1] as number, jacobian[3 * a + 2] as number];
        if (column === 0) for (let i = 0; i < 3; i++) g[i] = (g[i] as number) + (jacobian[3 * a + i] as number) * more;
        else if (column === 1) h[0] = (h[0] as number) + jt * more;
        else if (column === 2) {
          h[1] = (h[1] as number) + jt * more;
          h[2] = (h[2] as number) + jd * more;
        } else {
          h[3] = (h[3] as number) + jt * more;
          h[4] = (h[4] as number) + jd * more;
          h[5] = (h[5] as number) + js * more;
        }
      }
    return { all: { count: m, stride: most, ohm: this.ohm, scaleOhm: all.scaleOhm, inverse, solved, g, h }, residual: this.residual };
  }
}
