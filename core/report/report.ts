import { labelOfWay, loadsOf, protectionsOf, type Installation } from '../installation';
import { elementKey } from '../workstate';
import type { JobView, LiveReadingView, ReadingView } from '../job';
import { furthestLeft } from '../live';
import { NO_RCD, proofOf, retestResults } from '../retest';
import { putBackList } from '../safety';
import { suspectsOf } from '../faults';
import { questionsOf } from '../asking';
import { answerWords, beliefPlaceName, complaintWords, deviceWords, devicesFound, devicesFoundWords, leakageMayTrip, leftItLine, liveMetalWords, questionWords, readingWords, functionWords, liveResultWords, liveTestWords, nothingFoundPlain, nothingFoundTitle, partName, plainFault, pointName, probeWords, retestExpected, retestTitle, spotName, suspectTitle } from '../wording';
import { profiles, type Profile } from '../profiles';
import { earthNotTested } from './earths';

/** A job as a report: data alone, in order; HTML, PDF and CSV are made from it. */
export interface Report {
  readonly title: string;
  readonly made: string;
  readonly status: string;
  /** "Proved", or why not. */
  readonly proof: string;
  readonly customer: readonly string[];
  /** What was complained of and told, and what was drawn. */
  readonly asked: readonly string[];
  /** What stands there where nothing was found and done. */
  readonly nothing: string;
  readonly found: readonly { readonly what: string; readonly done: string; readonly explains: string }[];
  readonly readings: readonly ReportReading[];
  readonly live: readonly { readonly time: string; readonly what: string; readonly value: string; readonly state: string; readonly remark: string }[];
  readonly retests: readonly { readonly what: string; readonly expected: string; readonly before: string; readonly after: string; readonly verdict: string }[];
  readonly safety: readonly string[];
  readonly leftAs: readonly string[];
  readonly notes: readonly { readonly severity: string; readonly text: string }[];
  readonly limitations: readonly string[];
  readonly photos: readonly { readonly id: string; readonly note: string }[];
}

export interface ReportReading {
  readonly number: number;
  readonly time: string;
  readonly what: string;
  readonly function: string;
  readonly value: string;
  readonly conditions: string;
  readonly state: string;
  readonly remark: string;
}

/** Date and time where the person is: "2026-03-03 08:00". */
const clock = (at: number): string => new Intl.DateTimeFormat('sv-SE', { dateStyle: 'short', timeStyle: 'short' }).format(at);

export function describeReport(view: JobView, now: number, profile: Profile = profiles.iec): Report {
  const { map } = view;
  const devices = devicesFound(view, profile);
  const leaks = leakageMayTrip(view, devices);
  const suspects = new Map((map ? suspectsOf(map) : []).map((s) => [s.id, s]));
  const title = (id: string): string => {
    const s = suspects.get(id);
    return map && s ? suspectTitle(map, s) : id;
  };
  const plain = (id: string): string => {
    const s = suspects.get(id);
    return map && s ? plainFault(map, s) : id;
  };
  const proof = proofOf(view);
  const results = map ? retestResults(view) : [];
  const open = results.filter((r) => r.verdict !== 'met');
  const found = view.mends.map((m) => ({ what: title(m.event.suspect), done: `${m.event.how}${m.event.text ? `: ${m.event.text}` : ''}`, explains: explainsWords[m.event.explains] }));
  return {
    title: view.name || 'Unnamed job',
    made: clock(now),
    status: view.status,
    proof: proof === 'proved' ? 'Proved: every retest owed was met.' : proof === 'nothing mended' ? 'Nothing was mended, so nothing is proved.' : `Not proved: ${open.length} of ${results.length} retests are open, not met or not done.`,
    customer: customerPage(view, view.mends.map((m) => plain(m.event.suspect)), proof === 'proved', leaks),
    asked: askedLines(view),
    found,
    nothing: view.leftIt === null ? 'Nothing yet.' : `${nothingFoundTitle(view.asked.complaint, { leaks, mended: view.mends.length > 0 })}.`,
    readings: view.readings.map((r, i) => readingLine(map, r, i)),
    live: view.liveReadings.map((r) => ({
      time: clock(r.event.at), what: map ? liveTestWords(map, r.event.test) : r.event.test.kind, value: map ? liveResultWords(map, r.event.test) : '',
      state: liveStateLine(map, r), remark: r.struck ? `struck out: ${r.struck}` : '',
    })),
    retests: results.map((r) => ({
      what: map ? retestTitle(map, r.item) : '', expected: retestExpected(view, r.item, profile), before: r.before ? words(r.before) : '',
      after: r.reading ? words(r.reading) : r.item.live && (r.verdict === 'met' || r.onGuess !== undefined) ? r.because : '',
      verdict: r.verdict === 'not done' ? `not done, because ${r.because}` : r.because === NO_RCD ? 'not owed' : map && r.onGuess !== undefined ? `open: ${deviceWords(map, r.onGuess)} was not read, the limit is of a guess` : r.verdict,
    })),
    safety: safetyLines(view),
    leftAs: map ? [...putBackList(map, view.state, view.secured !== null).map((i) => leftLine(map, i.kind, i.point, i.parts)), ...view.leftSafe.map((l) => `left safe: ${itemWords(map, l.item)} (${l.why})`)] : [],
    photos: view.photos,
    notes: view.notes.map((n) => ({ severity: n.severity, text: n.text })),
    limitations: [
      ...(map ? [...view.feeds].filter(([, f]) => !f.asLabelled).map(([way, f]) => `Wrong label: ${labelOfWay(map, way)} really feeds ${f.what}.`) : []),
      ...(map ? view.unreachable.map((p) => `${pointName(map, p)} could not be reached${view.whyUnreached.has(p) ? ` (${view.whyUnreached.get(p)})` : ''}: nothing was read there.`) : []),
      ...(map ? furthestLeft(map, view.liveReadings.filter((r) => !r.struck).map((r) => r.event.test)).map((f) => `${labelOfWay(map, f.way)}: the loop was read at ${f.readAt.map((p) => pointName(map, p)).join(', ')}, not at its furthest point, ${pointName(map, f.furthest)}.`) : []),
      ...(map?.sections.some((s) => !s.lengthKnown) ? ['Cable lengths are partly guessed; distances along a cable hang on them.'] : []),
      ...(map && !map.orderKnown ? ['The order of the points is not confirmed.'] : []),
      ...(view.leftIt === null ? [] : [leftItLine(view.asked.complaint, { fine: view.leftIt, mended: view.mends.length > 0, readings: view.readings.filter((r) => !r.struck).length, live: view.liveReadings.filter((r) => !r.struck).length }), ...[earthNotTested(view)].flatMap((line) => line ?? [])]),
      ...devicesFoundWords(view, devices, profile),
      ...beforeProof(view),
    ],
  };
}

const explainsWords = { yes: 'explains the complaint', no: 'does not explain the complaint: an incidental defect', 'not sure': 'may explain the complaint' } as const;

const words = (r: ReadingView): string => readingWords(r.event);

function readingLine(map: Installation | null, r: ReadingView, i: number): ReportReading {
  const e = r.event;
  const marks = [e.unsteady ? 'unsteady' : '', e.climbing ? 'climbing' : '', e.beforeProof ? 'taken before proof' : '', r.struck ? `struck out: ${r.struck}` : '', r.parked ? `parked: ${r.parked}` : ''];
  return {
    number: i + 1, time: clock(e.at), what: map ? probeWords(map, e.probe).line : [...e.probe.from, ...e.probe.to].join(' to '), function: e.testVolt ? `${functionWords[e.probe.fn]}, ${e.testVolt} V` : functionWords[e.probe.fn],
    value: words(r), conditions: e.conditions.join(', '), state: stateLine(map, r), remark: marks.filter(Boolean).join('; '),
  };
}

/** The state a reading was taken in, in a line: what was out, linked, and which loads were in. */
export function stateLine(map: Installation | null, r: Pick<ReadingView, 'state'>): string {
  const { out, links, loadsOut } = r.state;
  if (!map) return '';
  const places = [...new Set(out.map((k) => spotName(map, k)))];
  const loads = map.points.flatMap((p) => loadsOf(p).filter((l) => l.loadClass !== 'arrester' && !l.implied).map((l) => elementKey(p.id, l.id)));
  const inside = loads.filter((k) => !loadsOut.includes(k));
  return [
    out.length ? `out: ${places.join('; ')}` : 'everything joined',
    ...links.map((l) => `link ${spotName(map, l.a)}`),
    loads.length === 0 ? '' : inside.length === 0 ? 'all loads out' : inside.length <= LOADS_NAMED ? `in: ${inside.map((k) => beliefPlaceName(map, k)).join(', ')}` : `${inside.length} ${inside.length === 1 ? 'load' : 'loads'} in`,
    unpluggedWords(map, loadsOut),
  ].filter(Boolean).join('; ');
}
/** More loads or devices than these are counted, not named. */
const LOADS_NAMED = 3;

/** What nobody has seen counts as neither in nor out, until somebody has taken it out. */
function unpluggedWords(map: Installation, loadsOut: readonly string[]): string {
  const at = map.points.filter((p) => loadsOf(p).some((l) => l.implied && loadsOut.includes(elementKey(p.id, l.id))));
  return at.length === 0 ? '' : at.length <= LOADS_NAMED ? `unplugged: ${at.map((p) => p.name).join(', ')}` : `unplugged at ${at.length} points`;
}

/** The state a live test was made in: which devices and switches were off, or the few that were on, and what was unplugged. */
function liveStateLine(map: Installation | null, { state }: Pick<LiveReadingView, 'state'>): string {
  if (!map) return '';
  const devices = protectionsOf(map);
  const isOff = (poles: readonly string[]): boolean => poles.some((p) => state.off.includes(p));
  const off = [...devices.filter((d) => isOff(d.poles)).map((d) => d.name), ...state.off.filter((part) => !devices.some((d) => d.poles.includes(part))).map((part) => partName(map, part))];
  const on = devices.filter((d) => !isOff(d.poles)).map((d) => d.name);
  const known = state.loadsOut.filter((k) => !map.points.some((p) => loadsOf(p).some((l) => l.implied && elementKey(p.id, l.id) === k)));
  return [
    off.length === 0 ? 'all on' : off.length <= LOADS_NAMED ? `off: ${off.join(', ')}` : on.length <= LOADS_NAMED ? `on: ${on.join(', ') || 'nothing'}` : `off: ${off.length} of ${off.length + on.length}`,
    known.length === 0 ? '' : known.length <= LOADS_NAMED ? `out: ${known.map((k) => beliefPlaceName(map, k)).join(', ')}` : `${known.length} loads out`,
    unpluggedWords(map, state.loadsOut),
  ].filter(Boolean).join('; ');
}

/** An item of the put-back list in names: "ends p3" is "ends at Outlet 3". */
function itemWords(map: Installation, item: string): string {
  const [kind = '', id = ''] = item.split(/ (.*)/);
  if (kind === 'loads' || kind === 'lock') return kind;
  return `${kind} at ${kind === 'link' ? spotName(map, id.split('=')[0] ?? id) : pointName(map, id)}`;
}

/** What is still apart, in names. */
function leftLine(map: Installation, kind: string, point: string, parts: readonly string[]): string {
  if (kind === 'lock') return 'lock: still on';
  if (kind === 'load') return `loads out: ${parts.map((p) => beliefPlaceName(map, p)).join(', ')}`;
  return `${kind}: ${point ? pointName(map, point) : parts.map((p) => spotName(map, p)).join(', ')}`;
}

function askedLines(view: JobView): string[] {
  const { asked, map } = view;
  const answers = (map ? questionsOf(map, asked) : []).flatMap((q) => {
    const answer = asked.answers[q.id];
    const words = questionWords[q.id];
    return answer === undefined || !words ? [] : [`${words.ask} ${map && answer ? answerWords(map, q.id, answer) : 'Don’t know'}.`];
  });
  return [
    asked.complaint ? `Complaint: ${complaintWords[asked.complaint]}.` : 'Nothing was asked.', ...(asked.notes ? [`In words: ${asked.notes}`] : []), ...answers,
    ...(map ? drawnLines(map, view.phrase) : []),
  ];
}

/** Readings that were taken before proof, in one line: "Readings 3, 5 to 9 were taken before proof of dead." */
function beforeProof(view: JobView): string[] {
  const numbers = view.readings.flatMap((r, i) => (r.event.beforeProof && !r.struck ? [i + 1] : []));
  const runs = numbers.filter((n) => !numbers.includes(n - 1)).map((from) => {
    let to = from;
    while (numbers.includes(to + 1)) to++;
    return to === from ? `${from}` : `${from} to ${to}`;
  });
  return !runs.length ? [] : [numbers.length === 1 ? `Reading ${runs[0] ?? ''} was taken before proof of dead.` : `Readings ${runs.join(', ')} were taken before proof of dead.`];
}

/** What was drawn, point by point, and the circuits that nobody drew. */
function drawnLines(map: Installation, phrase: string): string[] {
  const names = (undrawn: boolean): string => map.points.filter((p) => p.kind !== 'board' && (p.kind === 'undrawn') === undrawn).map((p) => p.name).join(', ');
  return [`Drawn: ${[phrase, names(false)].filter(Boolean).join('; ')}.`, ...(names(true) ? [`Not drawn within: ${names(true)}.`] : [])];
}

function customerPage(view: JobView, found: readonly string[], proved: boolean, leaks: boolean): string[] {
  // What may hurt comes first.
  const first = [
    ...view.notes.filter((n) => n.severity === 'danger').map((n) => `Danger noted: ${n.text}`),
    ...(view.liveMetal && view.map ? [liveMetalWords(view.map, view.liveMetal)] : []),
    ...view.leftSafe.map((l) => `Left safe, not in use: ${view.map ? itemWords(view.map, l.item) : l.item} (${l.why}).`),
  ];
  const lines = [...first, found.length ? `Found: ${[...new Set(found)].join('; ')}.` : view.leftIt === null ? 'No fault has been named yet.' : nothingFoundPlain(view.asked.complaint, leaks)];
  const mended = view.mends.filter((m) => m.event.how !== 'left safe').length;
  const left = view.mends.length - mended;
  if (mended) lines.push(proved ? 'It was mended and tested again; every test was met.' : 'It was mended. Some of the tests that prove it are still to be done.');
  if (left) lines.push('A part was left out of use and made safe. Ask what it would take to put it right.');
  for (const n of view.notes) if (n.severity === 'observation') lines.push(`Seen: ${n.text}`);
  lines.push(`Time used: ${Math.round(view.minutesUsed)} of ${view.agreedMin} agreed minutes.`);
  return lines;
}

function securedWith(s: NonNullable<JobView['secured']>): string[] {
  return [
    s.people ? `Two people: ${s.people.hands} has hands on, ${s.people.board} is at the board and alone switches.` : '',
    s.second ? `Second supply, off and locked too: ${s.second}.` : '',
    s.tails === 'isolated' ? 'Incoming tails: isolated upstream.' : s.tails === 'shrouded' ? 'Incoming tails: live, shrouded.' : '',
  ].filter(Boolean);
}

function safetyLines(view: JobView): string[] {
  const { map } = view;
  return [
    ...(view.secured ? securedWith(view.secured) : []),
    view.secured ? `Secured ${clock(view.secured.at)}; key: ${view.secured.key || 'not said'}.` : 'Not secured now.',
    ...view.everyProof.map((p) => `${map ? pointName(map, p.point) : p.point} proved dead ${clock(p.at)}: ${p.checks.length} checks${p.earthPlace ? `, also to ${p.earthPlace}` : ''}.`),
  ];
}

