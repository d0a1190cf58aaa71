import type { Look } from './look';
import type { RenderPlan } from './plan';
import { type StripContent, fillTables } from './strip';
import type { RenderTask } from './worker';

/** A thread that runs a RenderWorker: gives it one task and waits for its end. */
export type TaskRunner = (task: RenderTask) => Promise<void>;

/** A plan, its memory and the threads that work on it. */
export interface Render {
  slot: string;
  plan: RenderPlan;
  memory: WebAssembly.Memory;
  runners: readonly TaskRunner[];
}

/** Gives every worker the memory and the plan, and fills the tables. The source must be in place before strips run. */
export async function openRender(module: WebAssembly.Module, render: Render): Promise<void> {
  const { slot, plan, memory, runners } = render;
  fillTables(plan, memory);
  await Promise.all(runners.map((run, worker) => run({ kind: 'open', slot, module, memory, plan, worker })));
}

/** Builds the octaves of the blur stack from the source, each shared out among the workers. */
export async function buildOctaves({ slot, plan, runners }: Render, signal?: AbortSignal): Promise<void> {
  for (const [i, { height }] of plan.octaves.entries()) {
    signal?.throwIfAborted();
    // A small octave is not worth the messages.
    const share = height < 64 ? runners.slice(0, 1) : runners;
    const bounds = share.map((_, w) => Math.round((height * w) / share.length));
    await Promise.all(
      share.map((run, w) =>
        run({ kind: 'octave', slot, octave: i + 1, from: bounds[w]!, to: bounds[w + 1] ?? height }),
      ),
    );
  }
}

/**
 * Renders all strips of the region, each worker taking the next one when it is free. `onProgress` hears the share of
 * rows that are done, 0..1. @throws the signal's reason.
 */
export async function renderStrips(
  { slot, plan, runners }: Render,
  look: Look,
  content: StripContent,
  onProgress?: (done: number) => void,
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
        await run({ kind: 'strip', slot, look, from, to, content });
        finished += to - from;
        onProgress?.(finished / height);
      }
    }),
  );
}
