import type { Advice, SuspectView } from '../../core/advice';
import { findPoint, type Installation } from '../../core/installation';
import type { Complaint } from '../../core/job';
import { placeNames } from '../../core/planning';
import type { Displayed } from '../../core/tester';
import type { House, Wrong } from './house';
import type { Nature, Symptoms } from './nature';
import { felt } from './story';

/** What was drawn against what is there. */
export interface Truths {
  map(): Installation;
  /** Plan → truth, of a point or section; and of a key that begins with one. */
  place(id: string): string;
  key(key: string): string;
}

/** What of the advice is so: its leader by tenths of its share, what it calls cleared, its tables, and what it says of the complaint. */
export class Judge {
  readonly bins = Array.from({ length: 10 }, () => ({ steps: 0, right: 0 }));
  clearedTruth = 0;
  advices = 0;
  readonly outcomes = { asked: 0, held: 0 };
  readonly explains = { asked: 0, agreed: 0 };

  constructor(private readonly house: House, private readonly nature: Nature, private readonly complaint: Complaint, private readonly symptoms: Symptoms, private readonly truth: Truths, private readonly log: string[]) {}

  /** Is it where something is wrong? */
  rightPlace(place: string, w: Wrong): boolean {
    const name = placeNames(this.house.whole);
    const mine = place.startsWith('p0.') ? place.slice(3) : this.truth.key(place);
    if (w.places.some((t) => name(t) === name(mine))) return true;
    // A plug that stayed in against the record is at the place that is named; the card says to look for it first.
    if (w.places.some((t) => this.nature.stayedIn(t) && t.split('.')[0] === mine)) return true;
    // On a way that nobody has drawn, or whose loads hang together, the lump is the place.
    const [point = ''] = place.split('.');
    const lump = findPoint(this.truth.map(), point)?.kind === 'undrawn' || (this.truth.map().sections.find((s) => s.id === place) !== undefined && findPoint(this.truth.map(), this.truth.map().sections.find((s) => s.id === place)?.b ?? '')?.kind === 'undrawn');
    if (!lump) return false;
    const own = this.house.ways.find((x) => x.points.includes(this.truth.place(point)) || x.sections.includes(this.truth.place(point)));
    return w.places.some((t) => own?.points.includes(t.split('.')[0] ?? '') === true || own?.sections.includes(t) === true);
  }

  /** Is it so, the conductors with it? */
  right(place: string, s: Pick<SuspectView, 'kind' | 'conductors'> | undefined, w: Wrong): boolean {
    if (w.family === 'sensitive') return s?.kind === 'rcdSensitive' && w.places.includes(s.conductors[0] ?? '');
    if (w.family === 'leakage') return s?.kind === 'standingLeak' && w.places.includes(s.conductors[0] ?? '');
    if (!this.rightPlace(place, w)) return false;
    if (s?.conductors[0] === 'unsaid') return false;
    const own = (s?.conductors ?? []).map((c) => (c === 'SL' ? 'L' : c)).filter((c) => ['L', 'N', 'E'].includes(c));
    const real = w.conductors.map((c) => (c === 'SL' ? 'L' : c));
    return own.every((c) => real.includes(c));
  }

  /** A share is that of a place: its conductors are another claim. */
  private rightLeader(place: string, s: SuspectView | undefined, w: Wrong): boolean {
    return w.family === 'sensitive' || w.family === 'leakage' ? this.right(place, s, w) : this.rightPlace(place, w);
  }

  /** What the advice holds likeliest. */
  leads(advice: Advice): { place: string; suspect: SuspectView | undefined; share: number } {
    const [top] = advice.places;
    const place = top?.place ?? '';
    const name = placeNames(this.truth.map());
    return { place, share: top?.share ?? 0, suspect: advice.suspects.find((s) => name(s.place) === place) ?? advice.suspects[0] };
  }

  /** Is what is claimed of a place so of anything that is wrong? */
  anyRight(place: string, s: SuspectView | undefined): boolean {
    if (place === 'sound') return this.nature.wrongs.length === 0;
    if (place === 'unknown') return false;
    if (place.startsWith('state ')) return false;
    return this.nature.wrongs.some((w) => this.right(place, s, w));
  }

  /** Counts whether the leader, and what is said to be cleared, is so. */
  judge(advice: Advice): void {
    this.advices++;
    const { place, suspect, share } = this.leads(advice);
    if (advice.hasReadings && place !== 'unknown' && !place.startsWith('state ')) {
      const bin = place === 'sound' ? undefined : this.bins[Math.min(9, Math.floor(share * 10))];
      if (bin) {
        bin.steps++;
        if (this.nature.wrongs.some((w) => this.rightLeader(place, suspect, w))) bin.right++;
      }
    }
    if (advice.cleared.some((c) => c.asFar === 'all' && this.nature.wrongs.some((w) => w.places.some((t) => this.truth.key(c.place) === t) && [...c.conductors].sort().join('') === [...w.conductors].sort().join('')))) {
      this.clearedTruth++;
      this.log.push(`CLEARED the truth: ${JSON.stringify(advice.cleared.filter((c) => this.nature.wrongs.some((w) => w.places.includes(this.truth.key(c.place)))))}`);
    }
  }

  /** Was the value that was read in the table that was shown before? */
  checkOutcomes(table: Advice['steps'][number]['outcomes'], shown: Displayed | undefined): void {
    // A row of many places names none of them; the one of no place is what no map shows.
    const rows = table.filter((o) => o.count > 0);
    if (!shown || !rows.length) return;
    this.outcomes.asked++;
    if (rows.some((o) => ('above' in shown ? o.above || o.high >= shown.above : shown.ohm >= o.low && shown.ohm <= o.high))) this.outcomes.held++;
  }

  /** A joint that is poor is not one that is broken: what the one causes says nothing of the other. */
  private brokenNotPoor(s: Advice['suspects'][number]): boolean {
    return s.kind === 'resistiveEnd' && this.nature.wrongs.some((w) => w.faults.some((f) => f.kind === 'openCore' || (f.kind === 'termination' && f.ohm === 'open')));
  }

  /** Does what is really wrong cause the complaint, as the app says it of that suspect and as the house has it? A "may" claims nothing. */
  checkExplains(advice: Advice): void {
    if (this.nature.wrongs.length !== 1) return;
    for (const s of advice.suspects) {
      if (s.explains.says === 'not asked' || s.explains.says === 'perhaps' || !this.anyRight(s.place, s) || this.brokenNotPoor(s)) continue;
      this.explains.asked++;
      const agreed = (s.explains.says !== 'no') === felt(this.complaint, this.symptoms);
      if (agreed) this.explains.agreed++;
      else this.log.push(`EXPLAINS ${s.id}: ${JSON.stringify(s.explains)} but ${JSON.stringify(this.symptoms)}`);
    }
  }
}
