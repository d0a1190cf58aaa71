/** Milliseconds that a piece of work takes. */
export async function time(work: () => unknown): Promise<number> {
  const start = performance.now();
  await work();
  return performance.now() - start;
}

/** Medians of both pieces of work, run in turns after one round to warm up. */
export async function inTurns(
  runs: number,
  ours: () => unknown,
  peer: () => unknown,
): Promise<{ ours: number; peer: number }> {
  const median = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1]!;
  const taken = { ours: [] as number[], peer: [] as number[] };
  await ours();
  await peer();
  for (let i = 0; i < runs; i++) {
    taken.ours.push(await time(ours));
    taken.peer.push(await time(peer));
  }
  return { ours: median(taken.ours), peer: median(taken.peer) };
}

export const thousandth = (value: number): number => Number(value.toFixed(3));
