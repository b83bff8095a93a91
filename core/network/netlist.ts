import type { Fault } from '../faults';
import type { Installation, PlaceKey } from '../installation';
import type { WorkState } from '../workstate';
import { compileNetwork, type Network } from './compile';
import type { Physics } from './physics';

/**
 * The network as a SPICE netlist: one resistor a branch, node names as comments. With a pair given, one volt is put
 * across it and 1 V over its current, in ohms, is printed (measured on the grounded side, where the simulator keeps most digits). Nodes that the pair does not reach are left out, so that
 * the matrix is not singular; a pair with no path gives null.
 */
export function netlistOf(title: string, network: Network, pair: readonly [PlaceKey, PlaceKey] | null): string | null {
  const a = pair ? network.index.get(pair[0]) : undefined;
  const b = pair ? network.index.get(pair[1]) : undefined;
  const kept = pair ? reachable(network, a ?? -1) : null;
  if (pair && (a === undefined || b === undefined || a === b || !kept?.has(b))) return null;
  const name = (n: number): string => `n${n + 1}`;
  const lines = [`* ${title.replace(/[\r\n]+/g, ' ')}`];
  for (const [i, key] of network.nodes.entries()) if (!kept || kept.has(i)) lines.push(`* ${name(i)} = ${key}`);
  let n = 0;
  for (const branch of network.branches) {
    if (kept && !kept.has(branch.a)) continue;
    lines.push(`R${++n} ${name(branch.a)} ${name(branch.b)} ${branch.ohm.toExponential(12)} ; ${branch.part}`);
  }
  if (pair) lines.push(`V1 ${name(a as number)} 0 DC 1`, `V2 ${name(b as number)} 0 DC 0`, '.options gmin=1e-18 reltol=1e-7 abstol=1e-15', '.control', 'set numdgt=12', 'op', 'print 1/i(v2)', 'quit', '.endc');
  lines.push('.end', '');
  return lines.join('\n');
}

export function netlistFor(title: string, map: Installation, state: WorkState, faults: readonly Fault[], physics: Physics, pair: readonly [PlaceKey, PlaceKey] | null): string | null {
  return netlistOf(title, compileNetwork(map, state, faults, physics), pair);
}

function reachable(network: Network, from: number): Set<number> {
  const next = new Map<number, number[]>();
  for (const { a, b } of network.branches) {
    next.set(a, [...(next.get(a) ?? []), b]);
    next.set(b, [...(next.get(b) ?? []), a]);
  }
  const seen = new Set<number>([from]);
  const queue = [from];
  while (queue.length) for (const n of next.get(queue.pop() as number) ?? []) if (!seen.has(n)) {
    seen.add(n);
    queue.push(n);
  }
  return seen;
}
