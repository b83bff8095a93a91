import type { LiveNetwork } from './network';

/**
 * The energised network as a SPICE netlist for one frequency: conductances as resistors, capacitive parts as capacitors,
 * inductive ones as inductors, sources as currents beside their conductor. Prints real and imaginary volts of every node by `.ac`.
 */
export function liveNetlist(title: string, network: LiveNetwork, frequencyHz = 50): string {
  const omega = 2 * Math.PI * frequencyHz;
  const name = (n: number): string => (n === network.ground ? '0' : `n${n + 1}`);
  const lines = [`* ${title.replace(/[\r\n]+/g, ' ')}`, ...network.nodes.map((key, i) => `* ${name(i)} = ${key}`)];
  let count = 0;
  for (const b of network.branches) {
    const ends = `${name(b.a)} ${name(b.b)}`;
    if (b.re !== 0) lines.push(`R${++count} ${ends} ${(1 / b.re).toExponential(12)} ; ${b.part}`);
    if (b.im > 0) lines.push(`C${++count} ${ends} ${(b.im / omega).toExponential(12)} ; ${b.part}`);
    if (b.im < 0) lines.push(`L${++count} ${ends} ${(-1 / (omega * b.im)).toExponential(12)} ; ${b.part}`);
  }
  for (const s of network.sources)
    lines.push(`I${++count} ${name(s.a)} ${name(s.b)} DC 0 AC ${Math.hypot(s.re, s.im).toExponential(12)} ${((Math.atan2(s.im, s.re) * 180) / Math.PI).toFixed(9)} ; ${s.part}`);
  const shown = network.nodes.flatMap((_, i) => (i === network.ground ? [] : [`print vr(${name(i)}) vi(${name(i)})`]));
  // Islands hang on capacitance alone: a resistance far above it keeps the operating point solvable.
  lines.push('.options gmin=1e-18 rshunt=1e15 reltol=1e-7', '.control', 'set numdgt=12', `ac lin 1 ${frequencyHz} ${frequencyHz}`, ...shown, 'quit', '.endc', '.end', '');
  return lines.join('\n');
}
