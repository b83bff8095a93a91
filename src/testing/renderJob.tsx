import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import type { ReactElement } from 'react';
import { JobProvider } from '@/features/job/JobProvider';
import { jobStore } from '@/storage';
import { ThemeProvider } from '@/theme';
import { boardOf, draftCircuit, endsAtPoint, type Installation } from '@core/installation';
import { deriveJob, JOB_FORMAT, JOB_VERSION, type JobEvent, type JobFile } from '@core/job';
import { provingPairs } from '@core/safety';

/** Where the screen sent the person; the router of the tests. */
export const routes: string[] = [];
/** Parameters that the next screen finds in its address. */
export const routeParams: Record<string, string> = {};

export function mockRouter() {
  const go = (to: string): void => void routes.push(to);
  return { useRouter: () => ({ replace: go, push: go, navigate: go }), useLocalSearchParams: () => routeParams, usePathname: () => routes.at(-1) ?? '/' };
}

let count = 0;

/** A job on a drafted circuit, with what the test adds to its log. */
export class JobMaker {
  readonly map: Installation;
  readonly id = `job-${++count}`;
  private readonly events: JobEvent[] = [];
  practice: JobFile['practice'];

  constructor(phrase: string) {
    const drafted = draftCircuit(phrase);
    if (!drafted.ok) throw new Error(phrase);
    this.map = { ...drafted.value, sections: drafted.value.sections.map((s) => ({ ...s, lengthKnown: true })) };
    this.add({ type: 'created', name: 'Throwing room', agreedMin: 45 }, { type: 'drafted', phrase, map: this.map });
  }

  add(...events: object[]): this {
    for (const e of events) this.events.push({ ...e, id: `${this.id}-e${this.events.length}`, at: Date.now() } as JobEvent);
    return this;
  }
  secured(): this {
    return this.add({ type: 'secured', permission: true, off: true, locked: true, key: 'with me' });
  }
  proved(point: string): this {
    const checks = [...provingPairs(this.map, point).map(([from, to]) => ({ from, to })), ...(this.map.points.find((p) => p.id === point)?.terminals ?? []).map((t) => ({ from: 'rod', to: t.id }))];
    return this.add({ type: 'proved', point, checks: checks.map((c) => ({ ...c, volt: 0, bleep: false })), earthPlace: 'rod in the yard' });
  }
  /** Secured, board proved and opened, every end out there. */
  dead(): this {
    const board = boardOf(this.map)?.id ?? '';
    return this.secured().proved(board).add({ type: 'opened', point: board }, { type: 'tookOut', point: board, ends: endsAtPoint(this.map, board).map((e) => e.key) });
  }
  read(fn: 'continuity' | 'insulation', from: string, to: string, ohm: number | 'above', more: object = {}): this {
    const displayed = ohm === 'above' ? { above: fn === 'insulation' ? 999e6 : 1e5 } : { ohm };
    return this.add({ type: 'read', probe: { fn, from: [from], to: [to] }, displayed, unit: fn === 'insulation' ? 'MΩ' : 'Ω', conditions: ['dry'], testVolt: fn === 'insulation' ? 500 : null, unsteady: false, climbing: false, beforeProof: false, retest: null, ...more });
  }
  get file(): JobFile {
    return { format: JOB_FORMAT, version: JOB_VERSION, id: this.id, events: [...this.events], ...(this.practice === undefined ? {} : { practice: this.practice }) };
  }
}

export const PHONE = 390;
export const WIDE = 1280;

function setWidth(width: number): void {
  Object.defineProperty(document.documentElement, 'clientWidth', { configurable: true, value: width });
  Object.defineProperty(document.documentElement, 'clientHeight', { configurable: true, value: 844 });
  Object.defineProperty(window, 'innerWidth', { configurable: true, value: width });
  fireEvent(window, new Event('resize'));
}

/** Shows a screen that stands by itself, as the app does. */
export function renderScreen(element: ReactElement, width = PHONE): void {
  // React works through its queue by itself, as in a browser.
  Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: false });
  routes.length = 0;
  setWidth(width);
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  render(<QueryClientProvider client={client}><ThemeProvider>{element}</ThemeProvider></QueryClientProvider>);
}

/** Shows a screen for a job that storage holds, and waits until it stands. */
export async function renderJob(job: Pick<JobMaker, 'id' | 'file'>, element: ReactElement, width = PHONE): Promise<void> {
  const saved = await jobStore().save(job.file);
  if (!saved.ok) throw new Error(saved.issues[0]?.code);
  renderScreen(<JobProvider id={job.id} whileLoading={<p>opening</p>} onMissing={(i) => <p>{i.code}</p>}>{element}</JobProvider>, width);
  await waitFor(() => {
    if (screen.queryByText('opening')) throw new Error('still opening');
  });
}

/** What storage holds of the job now, events of one type. */
export async function kept<T extends JobEvent['type']>(job: JobMaker, type: T): Promise<Extract<JobEvent, { type: T }>[]> {
  const loaded = await jobStore().load(job.id);
  if (!loaded.ok) throw new Error(loaded.issues[0]?.code);
  return loaded.value.events.filter((e): e is Extract<JobEvent, { type: T }> => e.type === type);
}

export async function keptView(job: JobMaker) {
  const loaded = await jobStore().load(job.id);
  if (!loaded.ok) throw new Error(loaded.issues[0]?.code);
  return deriveJob(loaded.value.events, Date.now());
}

async function settled(event: () => unknown): Promise<void> {
  event();
  await new Promise((resolve) => setTimeout(resolve, 0));
}

/** By its accessible name (every button has one); looking up roles as well takes seconds here. */
export const press = (name: string | RegExp): Promise<void> => settled(() => fireEvent.click(screen.getByLabelText(name)));
export const pressId = (id: string): Promise<void> => settled(() => fireEvent.click(screen.getByTestId(id)));
/** The hold that a change of state asks for; the keyboard's Enter counts as one. */
export const hold = (name: string | RegExp): Promise<void> => settled(() => fireEvent.keyDown(screen.getByLabelText(name), { key: 'Enter' }));
export const type = (label: string | RegExp, text: string): Promise<void> => settled(() => fireEvent.change(screen.getByLabelText(label), { target: { value: text } }));
export const key = (element: Element | Window, name: string): Promise<void> => settled(() => fireEvent.keyDown(element, { key: name }));
