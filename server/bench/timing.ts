/** Milliseconds that a piece of work takes. */
export async function time(work: () => unknown): Promise<number> {
  const start = performance.now();
  await work();
  return performance.now() - start;
}

/** The median time of each piece of work, run in turns after one round to warm up. */
export async function inTurns(runs: number, works: readonly (() => unknown)[]): Promise<number[]> {
  const taken: number[][] = works.map(() => []);
  for (const work of works) await work();
  for (let i = 0; i < runs; i++) for (const [k, work] of works.entries()) taken[k]!.push(await time(work));
  return taken.map((values) => values.sort((a, b) => a - b)[values.length >> 1]!);
}

export const thousandth = (value: number): number => Number(value.toFixed(3));
