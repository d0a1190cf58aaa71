import { type Kernels, createMemory, instantiateKernels } from '../kernels';
import type { Look } from './look';
import type { RenderPlan } from './plan';
import { type ScaleTask, scaleRows, scratchBytes } from './scale';
import { type StripContent, StripRenderer } from './strip';

/** What a render worker is told; it carries tasks out in order. A slot is one open render among several. */
export type RenderTask =
  | {
      kind: 'open';
      slot: string;
      module: WebAssembly.Module;
      memory: WebAssembly.Memory;
      plan: RenderPlan;
      worker: number;
    }
  | { kind: 'close'; slot: string }
  | { kind: 'octave'; slot: string; octave: number; from: number; to: number }
  | { kind: 'strip'; slot: string; look: Look; from: number; to: number; content: StripContent }
  | { kind: 'scale'; module: WebAssembly.Module; scale: ScaleTask };

/** Carries out render tasks; the thread around it only passes messages. */
export class RenderWorker {
  private readonly open = new Map<string, StripRenderer>();
  private scratch: { memory: WebAssembly.Memory; kernels: Kernels } | null = null;

  async run(task: RenderTask): Promise<void> {
    switch (task.kind) {
      case 'open': {
        const kernels = await instantiateKernels(task.module, task.memory);
        this.open.set(task.slot, new StripRenderer(kernels, task.plan, task.memory, task.worker));
        return;
      }
      case 'close':
        this.open.delete(task.slot);
        return;
      case 'octave':
        return this.strips(task.slot).buildOctave(task.octave, task.from, task.to);
      case 'strip':
        return this.strips(task.slot).renderStrip(task.look, task.from, task.to, task.content);
      case 'scale': {
        const { memory, kernels } = await this.scratchOf(task.module, scratchBytes(task.scale));
        return scaleRows(kernels, memory, task.scale);
      }
    }
  }

  private strips(slot: string): StripRenderer {
    const strips = this.open.get(slot);
    if (!strips) throw new Error(`A render worker was given work for "${slot}", which is not open.`);
    return strips;
  }

  private async scratchOf(
    module: WebAssembly.Module,
    bytes: number,
  ): Promise<{ memory: WebAssembly.Memory; kernels: Kernels }> {
    if (!this.scratch || this.scratch.memory.buffer.byteLength < bytes) {
      const memory = createMemory(bytes);
      this.scratch = { memory, kernels: await instantiateKernels(module, memory) };
    }
    return this.scratch;
  }
}
