import { appendFileSync, existsSync, mkdirSync, readFileSync } from 'node:fs';
import type { VisitDone } from './job';

const FOLDER = 'bench/record';

/** A visit as it is kept: without what was done step by step, but with how long it took here. */
export type Recorded = Omit<VisitDone, 'log'>;

/**
 * Whole visits made with one engine, a line each, kept in the repository: all of them take longer than anyone sits by. Each visit follows from its seed and the
 * engine alone, so that whoever comes next goes on where this one stopped. `engine`: name of the code of the visits and all that they use, as bundled.
 */
export class VisitRecord {
  readonly file: string;
  private readonly known = new Map<number, Recorded>();

  constructor(engine: string) {
    this.file = `${FOLDER}/visits-${engine}.ndjson`;
    if (!existsSync(this.file)) return;
    for (const line of readFileSync(this.file, 'utf8').split('\n').filter(Boolean)) {
      const visit = JSON.parse(line) as Recorded;
      this.known.set(visit.seed, visit);
    }
  }

  /** Those among some seeds that nobody has made yet. */
  missing(seeds: readonly number[]): number[] {
    return seeds.filter((s) => !this.known.has(s));
  }

  /** Those made among some seeds. */
  of(seeds: readonly number[]): Recorded[] {
    return seeds.flatMap((s) => this.known.get(s) ?? []);
  }

  keep(visit: VisitDone): void {
    mkdirSync(FOLDER, { recursive: true });
    appendFileSync(this.file, `${JSON.stringify(visit, (key, value: unknown) => (key === 'log' ? undefined : value))}\n`);
    this.known.set(visit.seed, visit);
  }
}
