import type { Recipe } from '../recipe/schema';
import { fillTables } from './strip';
import type { RenderPlan } from './plan';
import type { StripContent } from './strip';
import type { RenderTask } from './worker';

/** A thread that runs a RenderWorker: gives it one task and waits for its end. */
export type TaskRunner = (task: RenderTask) => Promise<void>;

export interface RenderProgress {
  /** Share of the work that is done, 0..1. */
  done: number;
}

/** Gives every worker the memory and the plan, and fills the tables. The source must be in place before strips run. */
export async function openRender(module: WebAssembly.Module, memory: WebAssembly.Memory, plan: RenderPlan, runners: readonly TaskRunner[]): Promise<void> {
  fillTables(plan, memory);
  await Promise.all(runners.map((run, worker) => run({ kind: 'open', module, memory, plan, worker })));
}

/** Builds the octaves of the blur stack from the source, each shared out among the workers. */
export async function buildOctaves(plan: RenderPlan, runners: readonly TaskRunner[], signal?: AbortSignal): Promise<void> {
  for (const [i, { height }] of plan.octaves.entries()) {
    signal?.throwIfAborted();
    // A small octave is not worth the messages.
    const share = height < 64 ? [runners[0]!] : runners;
    const bounds = share.map((_, w) => Math.round((height * w) / share.length));
    await Promise.all(share.map((run, w) => run({ kind: 'octave', octave: i + 1, from: bounds[w]!, to: bounds[w + 1] ?? height })));
  }
}

/** Renders all strips of the region, each worker taking the next one when it is free. @throws the signal's reason. */
export async function renderStrips(
  plan: RenderPlan,
  runners: readonly TaskRunner[],
  recipe: Recipe,
  content: StripContent,
  onProgress?: (progress: RenderProgress) => void,
  signal?: AbortSignal,
): Promise<void> {
  const { height } = plan.region;
  let next = 0;
  let finished = 0;
  await Promise.all(
    runners.map(async (run) => {
      while (next < height) {
        signal?.throwIfAborted();
        const from = next;
        const to = Math.min(height, from + plan.stripRows);
        next = to;
        await run({ kind: 'strip', recipe, from, to, content });
        finished += to - from;
        onProgress?.({ done: finished / height });
      }
    }),
  );
}
