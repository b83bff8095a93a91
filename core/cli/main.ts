import { readFileSync } from 'node:fs';
import { Advisor, type Advice } from '../advice';
import { suspectsOf, type Fault, type Suspect } from '../faults';
import { boardOf, checkInstallation, parsePlace, protectionsOf, terminalKey, type Installation } from '../installation';
import { fail, issue, ok, type Issue, type Result } from '../issue';
import { deriveJob, jobFileSchema, parseJobFile, type JobFile, type JobView } from '../job';
import { chanceOfTrip, Harmonics, compileLive, Energised, GROUND, indicatorOhm, largest, lineParts, liveNetlist, magnitude } from '../live';
import { compileNetwork, netlistFor, planPhysics, resistanceBetween } from '../network';
import { inMegohms, probesFor } from '../planning';
import { situationOf } from '../job';
import { displayOf } from '../tester';
import { formatShare } from '../units';
import { deviceWords, displayedWords, issueText, liveCautionWords, liveOutcomeWords, liveStepTitle, outcomeMeaning, outcomeRange, probeWords, stepTitle, suspectTitle } from '../wording';

const USAGE = `gutter check job.json               is the file sound, and what does it hold
gutter predict job.json [FAULT]     what each open probe would read, sound or with a named fault
gutter locate job.json              the shortlist and the next step
gutter predict --live job.json [FAULT]   the same with the supply on: volts, currents, what trips
gutter netlist job.json [A B]       SPICE for the job's state; with a pair of places, put under 1 V
gutter netlist --live job.json [FAULT]   SPICE of the energised installation, for .ac
gutter schema                       the JSON Schema of a job file
Options: --json for machines. FAULT: an id of the shortlist, as “loose s3@a:N=open” or “contact s2:LE=31”.
Exit codes: 0 done, 1 the file or the request is wrong, 2 wrong use.`;

interface Opened { readonly file: JobFile; readonly view: JobView }

function open(path: string | undefined): Result<Opened> {
  if (!path) return fail(issue('cli.noFile'));
  let text: string;
  try {
    text = readFileSync(path, 'utf8');
  } catch {
    return fail(issue('cli.unreadable', [], { file: path }));
  }
  const parsed = parseJobFile(text);
  if (!parsed.ok) return parsed;
  const now = (parsed.value.events.at(-1)?.at ?? 0) + 1000;
  return ok({ file: parsed.value, view: deriveJob(parsed.value.events, now) });
}

interface Output { readonly json: unknown; readonly text: string }
type Command = (args: readonly string[]) => Result<Output>;

const check: Command = ([path]) => {
  const job = open(path);
  if (!job.ok) return job;
  const { view } = job.value;
  const problems = view.map ? checkInstallation(view.map) : [];
  const parked = view.readings.filter((r) => r.parked).length;
  const json = { name: view.name, status: view.status, points: view.map?.points.length ?? 0, sections: view.map?.sections.length ?? 0, readings: view.readings.length, parked, flags: view.flags.map((f) => f.code), problems };
  return ok({ json, text: `${view.name || 'Unnamed job'}: ${view.status}, ${json.points} points with the board, ${json.sections} cables, ${json.readings} readings${parked ? `, ${parked} parked` : ''}, ${view.flags.length} flags.\n${problems.map((p) => issueText(p)).join('\n') || 'The file is sound.'}` });
};

interface Supposed { readonly view: JobView; readonly map: Installation; readonly suspect: Suspect | undefined; readonly faults: Fault[] }

/** A job with a fault named on the command line: an id of the shortlist, with a size if it has one. */
function supposed([path, wanted]: readonly string[]): Result<Supposed> {
  const job = open(path);
  if (!job.ok) return job;
  const { view } = job.value;
  const { map } = view;
  if (!map || !boardOf(map)) return fail(issue('flag.noMap'));
  const [id = '', size] = (wanted ?? '').split('=');
  const suspect = suspectsOf(map).find((s) => s.id === id);
  if (wanted && !suspect) return fail(issue('cli.noSuchFault', [], { fault: id }));
  const ohm = size === undefined || size === 'open' ? Infinity : Number(size);
  if (suspect && Number.isNaN(ohm)) return fail(issue('reading.notNumber', [], { text: size ?? '' }));
  const needsOhm = suspect?.unknown.of === 'shunt' && ohm === Infinity;
  return ok({ view, map, suspect, faults: suspect ? suspect.fault(needsOhm ? 1 : ohm, 0.5) : [] });
}

const predict: Command = (args) => {
  const fault = supposed(args);
  if (!fault.ok) return fault;
  const { view, map, suspect, faults } = fault.value;
  const network = compileNetwork(map, view.state, faults, planPhysics);
  const probes = probesFor(map, situationOf(view), view.state, [], inMegohms);
  const rows = probes.map((probe) => {
    const value = resistanceBetween(network, network.index.get(probe.from[0] ?? '') ?? -1, network.index.get(probe.to[0] ?? '') ?? -1);
    return { probe, where: probeWords(map, probe).line, ohm: value === 'open' ? null : value };
  });
  return ok({ json: { fault: suspect?.id ?? 'sound', rows }, text: [`With ${suspect ? suspectTitle(map, suspect) : 'everything sound'}:`, ...rows.map((r) => `${displayedWords(r.probe.fn, displayOf(r.probe.fn, r.ohm ?? Infinity)).padStart(10)}  ${r.where}`)].join('\n') });
};

/** Everything that a live test would show at a glance: volts at each point, current and residual of each device, whether it opens. */
const predictLive: Command = (args) => {
  const fault = supposed(args);
  if (!fault.ok) return fault;
  const { view, map, suspect, faults } = fault.value;
  const e = Energised.of(map, view.state, faults);
  const volt = (a: string, b: string): number | null => {
    const v = e.voltage(a, b, indicatorOhm.low);
    return v ? magnitude(v) : null;
  };
  const points = map.points.map((p) => {
    const at = (role: string): string => terminalKey(p.id, p.terminals.find((t) => t.role.startsWith(role))?.id ?? role);
    return { point: p.id, name: p.name, lineNeutral: volt(at('L'), at('N')), lineEarth: volt(at('L'), at('E')), neutralEarth: volt(at('N'), at('E')), earthGround: volt(at('E'), GROUND) };
  });
  const harmonics = new Harmonics(e);
  const devices = protectionsOf(map).map((d) => {
    const lineA = magnitude(largest(lineParts(d).map((parts) => e.clamp(parts))));
    // A device of one pole watches its line alone.
    const residualA = d.residualMa === null ? 0 : magnitude(e.residual(d));
    return { device: d.id, name: deviceWords(map, d.id), lineA, harmonicA: harmonics.through(lineParts(d)[0] ?? []), residualMa: d.residualMa === null ? null : residualA * 1000, ...chanceOfTrip(d, lineA, residualA) };
  });
  const figure = (x: number | null): string => (x === null ? '-' : x.toFixed(1)).padStart(7);
  const text = [
    `Energised, with ${suspect ? suspectTitle(map, suspect) : 'everything sound'}; volts under a low impedance:`,
    '    L–N     L–E     N–E  E–ground', ...points.map((p) => `${figure(p.lineNeutral)} ${figure(p.lineEarth)} ${figure(p.neutralEarth)} ${figure(p.earthGround)}  ${p.name}`),
    '', '   line A  above 50 Hz A  residual mA  opens at once', ...devices.map((d) => `${d.lineA.toFixed(2).padStart(9)} ${d.harmonicA.toFixed(2).padStart(14)} ${(d.residualMa === null ? '-' : d.residualMa.toFixed(2)).padStart(12)} ${formatShare(d.atOnce).padStart(14)}  ${d.name}`),
  ].join('\n');
  return ok({ json: { fault: suspect?.id ?? 'sound', points, devices }, text });
};

const netlistLive: Command = (args) => {
  const fault = supposed(args);
  if (!fault.ok) return fault;
  const { view, map, faults } = fault.value;
  const text = liveNetlist(view.name || 'job', compileLive(map, view.state, faults));
  return ok({ json: { netlist: text }, text });
};

const locate: Command = ([path]) => {
  const job = open(path);
  if (!job.ok) return job;
  const { view } = job.value;
  const { map } = view;
  const advice = new Advisor().advise(view);
  if (!map || !advice) return fail(issue('flag.noMap'));
  return ok({ json: advice, text: adviceText(map, advice) });
};

function adviceText(map: NonNullable<JobView['map']>, advice: Advice): string {
  const titles = new Map(suspectsOf(map).map((s) => [s.id, suspectTitle(map, s)]));
  const lines = advice.hasReadings ? advice.suspects.map((s) => `${formatShare(s.share).padStart(6)}  ${suspectTitle(map, s)}`) : [`${advice.placesOpen} places open; no readings yet.`];
  if (advice.hasReadings) lines.push(`${formatShare(advice.others.share).padStart(6)}  ${advice.others.count} others`, `${formatShare(advice.unknownShare).padStart(6)}  something this map does not show`);
  lines.push(`Verdict: ${advice.verdict.says}`);
  const [step] = advice.steps;
  if (step) {
    lines.push('', `Next: ${stepTitle(map, step)} (${step.minutes.toFixed(1)} min)`, ...step.needs.map((n) => `  first: ${n.need}${'point' in n ? ` ${n.point}` : ''}`));
    const probe = step.probes[0];
    if (probe) lines.push(...step.outcomes.map((o) => `  ${outcomeRange(probe.fn, o).padEnd(18)} ${formatShare(o.share).padStart(6)}  ${outcomeMeaning(map, o, titles)}`));
  }
  const [live] = advice.liveSteps;
  if (live) lines.push('', `With the supply on: ${liveStepTitle(map, live.step)} (${live.minutes.toFixed(1)} min)`, ...live.needs.map((n) => `  first: ${n.need}`), ...live.cautions.map((c) => `  ${liveCautionWords[c]}`), ...live.outcomes.map((o) => `  ${liveOutcomeWords(map, o).padEnd(24)} ${formatShare(o.share).padStart(6)}`));
  return lines.join('\n');
}

const netlist: Command = ([path, a, b]) => {
  const job = open(path);
  if (!job.ok) return job;
  const { view } = job.value;
  if (!view.map || !boardOf(view.map)) return fail(issue('flag.noMap'));
  for (const key of [a, b]) if (key !== undefined && !parsePlace(key)) return fail(issue('state.unknownPlace', [], { place: key }));
  const text = netlistFor(view.name || 'job', view.map, view.state, [], planPhysics, a !== undefined && b !== undefined ? [a, b] : null);
  if (text === null) return fail(issue('cli.noPath', [], { from: a ?? '', to: b ?? '' }));
  return ok({ json: { netlist: text }, text });
};

const schema: Command = () => ok({ json: jobFileSchema(), text: JSON.stringify(jobFileSchema(), null, 1) });

const commands: Readonly<Record<string, Command>> = { check, predict, locate, netlist, schema };

const liveCommands: Readonly<Record<string, Command>> = { predict: predictLive, netlist: netlistLive };

const cliWords: Readonly<Record<string, (i: Issue) => string>> = {
  'cli.noFile': () => 'Name a job file.',
  'cli.unreadable': (i) => `The file ${i.figures?.file} cannot be read.`,
  'cli.noSuchFault': (i) => `There is no fault “${i.figures?.fault}” on this map. “locate --json” lists the ids.`,
  'cli.noPath': (i) => `No path between ${i.figures?.from} and ${i.figures?.to}: nothing to simulate.`,
  'flag.noMap': () => 'The job has no circuit yet.',
};

/** Runs one command; gives its exit code. Output and errors go to the given writers. */
export function run(argv: readonly string[], out: (s: string) => void, err: (s: string) => void): number {
  const json = argv.includes('--json');
  const live = argv.includes('--live');
  const [name = '', ...args] = argv.filter((a) => a !== '--json' && a !== '--live');
  const command = live ? liveCommands[name] : commands[name];
  if (!command) {
    err(USAGE);
    return 2;
  }
  const result = command(args);
  if (result.ok) {
    out(json ? JSON.stringify(result.value.json, null, 1) : result.value.text);
    return 0;
  }
  if (json) out(JSON.stringify({ issues: result.issues }, null, 1));
  else for (const i of result.issues) err(cliWords[i.code]?.(i) ?? issueText(i));
  return 1;
}
