import { deriveJob, type JobFile } from '@core/job';
import { liveTesterOf, practiceTruth, SimulatedTester, type SimulatedLive } from '@core/simulation';
import { seededRandom } from '@core/numeric';
import type { TesterLink } from '.';

const testers = new Map<string, { dead: SimulatedTester; live: SimulatedLive }>();

/** The simulated tester of a demo job: one instrument per job and map, with a truth that only it knows. */
export function practiceTester(file: JobFile): TesterLink | null {
  const view = deriveJob(file.events, Date.now());
  if (!view.map) return null;
  const key = JSON.stringify([file.id, file.practice, view.map, view.mends.map((m) => m.event.suspect), view.remade]);
  let tester = testers.get(key);
  if (!tester) {
    const truth = practiceTruth(file, view.map, view.mends.map((m) => m.event.suspect), view.remade);
    if (!truth) return null;
    tester = { dead: new SimulatedTester(truth.truth, seededRandom(truth.seed + view.mends.length), 0), live: liveTesterOf(truth.truth, truth.seed) };
    testers.set(key, tester);
  }
  const instrument = tester;
  return { name: 'practice tester', read: (state, probe) => instrument.dead.read(state, probe), live: (state, ask) => instrument.live.answer(state, ask) };
}
