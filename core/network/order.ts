export interface EliminationOrder {
  /** The next node to eliminate; undefined at the end. */
  pop(): number | undefined;
  /** Says that a node's neighbours have changed. */
  touch(node: number): void;
}

/** Nodes of a mesh with the fewest neighbours first, by buckets; the kept nodes never come. */
export function fewestFirst(mesh: readonly ReadonlyMap<number, unknown>[], kept: readonly number[]): EliminationOrder {
  const gone = new Uint8Array(mesh.length);
  for (const n of kept) gone[n] = 1;
  const buckets: number[][] = [];
  const push = (n: number): void => void (buckets[mesh[n]?.size ?? 0] ??= []).push(n);
  for (let n = 0; n < mesh.length; n++) if (!gone[n]) push(n);
  return {
    touch: (n) => {
      if (!gone[n]) push(n);
    },
    pop: () => {
      for (let d = 0; d < buckets.length; d++) {
        const bucket = buckets[d];
        while (bucket?.length) {
          const n = bucket.pop() as number;
          if (gone[n] || mesh[n]?.size !== d) continue;
          gone[n] = 1;
          return n;
        }
      }
      return undefined;
    },
  };
}
