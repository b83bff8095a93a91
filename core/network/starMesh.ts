import type { Network } from './compile';
import { fewestFirst, type EliminationOrder } from './order';

export type Resistance = number | 'open';

/** Above this no instrument, and no insulation on earth, tells a path from none. */
export const OPEN_ABOVE_OHM = 1e13;

/**
 * Resistance in ohms between two nodes, by eliminating all others one at a time: the branches at a node
 * with conductances g become a mesh of g_i g_j / Σg. Only sums, products and quotients of positive
 * numbers occur, so nothing is lost although conductances span sixteen decades (star–mesh transform,
 * Rosen 1924; the same idea as Grassmann, Taksar and Heyman 1985 for Markov chains).
 * A node joined to itself reads 0; no path at all is "open".
 */
export function resistanceBetween(network: Network, a: number, b: number): Resistance {
  if (a === b) return 0;
  const mesh = conductances(network);
  const heap = fewestFirst(mesh, [a, b]);
  for (let next = heap.pop(); next !== undefined; next = heap.pop()) eliminate(mesh, next, heap);
  const g = mesh[a]?.get(b) ?? 0;
  return g > 0 && 1 / g <= OPEN_ABOVE_OHM ? 1 / g : 'open';
}

type Mesh = Map<number, number>[];

function conductances(network: Network): Mesh {
  const mesh: Mesh = network.nodes.map(() => new Map<number, number>());
  for (const { a, b, ohm } of network.branches) {
    addTo(mesh, a, b, 1 / ohm);
    addTo(mesh, b, a, 1 / ohm);
  }
  return mesh;
}

function addTo(mesh: Mesh, a: number, b: number, g: number): void {
  const row = mesh[a] as Map<number, number>;
  row.set(b, (row.get(b) ?? 0) + g);
}

function eliminate(mesh: Mesh, node: number, order: Pick<EliminationOrder, 'touch'>): void {
  const row = [...(mesh[node] as Map<number, number>)];
  const total = row.reduce((sum, [, g]) => sum + g, 0);
  for (const [i, [p, gp]] of row.entries()) {
    mesh[p]?.delete(node);
    for (const [q, gq] of row.slice(0, i)) {
      const g = (gp * gq) / total;
      addTo(mesh, p, q, g);
      addTo(mesh, q, p, g);
    }
  }
  mesh[node]?.clear();
  for (const [p] of row) order.touch(p);
}
