/** Slopes are drawn anew where something is so much longer or thinner than it was taken for, in ln; so far at the most. */
const WORTH_TAKING = 0.25;
const MOST_LN = 2;

/** What the lengths and the areas of protective conductors are taken for, from which slopes are drawn; and how far each may be from the plan. */
export interface AsTaken {
  readonly longer: Float64Array;
  readonly sd: Float64Array;
  readonly thinner: Float64Array;
  readonly cpcSd: Float64Array;
}

/**
 * A plan as the readings have it. What is far from drawn is weighed by slopes where it is: by those of the drawing a cable of twice the
 * length looks far less likely than it is, for what the meter shows grows faster than the slope there says.
 * Rows have the ohms of a reading by section, and behind these what the protective conductors of each circuit have of them.
 */
export class Taken implements AsTaken {
  /** ln of how much longer than drawn each section is taken for, and of how many more ohms the protective conductors of each circuit. */
  readonly longer: Float64Array;
  readonly thinner: Float64Array;
  /** S.d. of both in ln: a thing that is held to be off has more. */
  readonly sd: Float64Array;
  readonly cpcSd: Float64Array;
  /** Nothing is taken for other than drawn. */
  asDrawn = true;
  private readonly grown: Float64Array;
  private readonly cpcGrown: Float64Array;
  /** Of the row in hand: what of a section's ohms is protective conductor, by circuit. */
  private readonly part: Float64Array;

  constructor(private readonly lengthSd: Float64Array, private readonly circuit: Int32Array, circuits: number) {
    const sections = lengthSd.length;
    this.longer = new Float64Array(sections);
    this.grown = new Float64Array(sections).fill(1);
    this.sd = lengthSd.slice();
    this.thinner = new Float64Array(circuits);
    this.cpcGrown = new Float64Array(circuits).fill(1);
    this.cpcSd = new Float64Array(circuits);
    this.part = new Float64Array(circuits);
  }

  /** Everything as drawn, but that some things may be far off: sections by their number, areas behind them. `variance`: of each such thing. */
  begin(off: readonly number[], variance: (i: number) => number): void {
    const { sd, lengthSd, cpcSd } = this;
    this.longer.fill(0);
    this.thinner.fill(0);
    this.grown.fill(1);
    this.cpcGrown.fill(1);
    this.asDrawn = true;
    sd.set(lengthSd);
    cpcSd.fill(0);
    for (const i of off) {
      if (i < sd.length) sd[i] = Math.sqrt((lengthSd[i] as number) ** 2 + variance(i));
      else cpcSd[i - sd.length] = Math.sqrt(variance(i));
    }
  }

  keep(): AsTaken {
    return { longer: this.longer.slice(), sd: this.sd.slice(), thinner: this.thinner.slice(), cpcSd: this.cpcSd.slice() };
  }

  restore(kept: AsTaken): void {
    this.sd.set(kept.sd);
    this.cpcSd.set(kept.cpcSd);
    this.takeFor(kept.longer, kept.thinner);
  }

  /** Would it be worth taking everything for what the readings make of it? Bounds what they make of it. */
  worthTaking(longer: Float64Array, thinner: Float64Array): boolean {
    let most = 0;
    for (const [now, next] of [[this.longer, longer], [this.thinner, thinner]] as const)
      for (let i = 0; i < now.length; i++) {
        next[i] = Math.max(-MOST_LN, Math.min(MOST_LN, next[i] as number));
        most = Math.max(most, Math.abs((next[i] as number) - (now[i] as number)));
      }
    return most >= WORTH_TAKING;
  }

  /** Takes everything for what it was `from`, moved by a part of the way to what the readings make of it. */
  moveFrom(from: AsTaken, longer: Float64Array, thinner: Float64Array, part: number): void {
    this.takeFor(from.longer.map((x, i) => x + part * ((longer[i] as number) - x)), from.thinner.map((x, q) => x + part * ((thinner[q] as number) - x)));
  }

  /** ln of the chance of what everything is taken for, but for a constant. */
  lnChance(): number {
    let sum = 0;
    for (let i = 0; i < this.sd.length; i++) if (this.longer[i] !== 0) sum -= 0.5 * ((this.longer[i] as number) / (this.sd[i] as number)) ** 2;
    for (let q = 0; q < this.cpcSd.length; q++) if (this.thinner[q] !== 0) sum -= 0.5 * ((this.thinner[q] as number) / (this.cpcSd[q] as number)) ** 2;
    return sum;
  }

  private takeFor(longer: Float64Array, thinner: Float64Array): void {
    this.longer.set(longer);
    this.thinner.set(thinner);
    for (let i = 0; i < longer.length; i++) this.grown[i] = Math.exp(longer[i] as number);
    for (let q = 0; q < thinner.length; q++) this.cpcGrown[q] = Math.exp(thinner[q] as number);
    this.asDrawn = longer.every((x) => x === 0) && thinner.every((x) => x === 0);
  }

  /** Ohms that a reading has more than with everything as drawn; takes its row in hand. */
  moreOhm(row: Float64Array): number {
    if (this.asDrawn) return 0;
    const { part, circuit, grown, cpcGrown } = this;
    const sections = grown.length;
    part.fill(0);
    for (let i = 0; i < sections; i++) part[circuit[i] as number] = (part[circuit[i] as number] as number) + (row[i] as number);
    for (let q = 0; q < part.length; q++) part[q] = (part[q] as number) > 0 ? Math.min(1, (row[sections + q] as number) / (part[q] as number)) : 0;
    let more = 0;
    for (let i = 0; i < sections; i++) {
      if (row[i] === 0) continue;
      const q = circuit[i] as number;
      more += (row[i] as number) * ((grown[i] as number) * (1 + (part[q] as number) * ((cpcGrown[q] as number) - 1)) - 1);
    }
    return more;
  }

  /** So many times its drawn length a section is taken for. */
  growth(section: number): number {
    return this.grown[section] ?? 1;
  }

  /** Slope with a section's length, ohms, of the row in hand. */
  slope(row: Float64Array, i: number): number {
    if (this.asDrawn) return row[i] as number;
    const q = this.circuit[i] as number;
    return (row[i] as number) * (this.grown[i] as number) * (1 + (this.part[q] as number) * ((this.cpcGrown[q] as number) - 1));
  }

  /** Slope with the area of a circuit's protective conductors, ohms, of the row in hand. */
  cpcSlope(row: Float64Array, q: number): number {
    const drawn = row[this.grown.length + q] as number;
    if (this.asDrawn || drawn === 0) return drawn;
    let sum = 0;
    for (let i = 0; i < this.grown.length; i++) if (this.circuit[i] === q) sum += (row[i] as number) * (this.grown[i] as number);
    return sum * (this.part[q] as number) * (this.cpcGrown[q] as number);
  }
}
