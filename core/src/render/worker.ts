import { type Kernels, instantiateKernels } from '../kernels';
import type { Recipe } from '../recipe/schema';
import type { RenderPlan } from './plan';
import { type StripContent, StripRenderer } from './strip';

/** What a render worker is told; answered in order. */
export type RenderTask =
  | { kind: 'open'; module: WebAssembly.Module; memory: WebAssembly.Memory; plan: RenderPlan; worker: number }
  | { kind: 'octave'; octave: number; from: number; to: number }
  | { kind: 'strip'; recipe: Recipe; from: number; to: number; content: StripContent };

/** Carries out render tasks; the thread around it only passes messages. */
export class RenderWorker {
  private strips: StripRenderer | null = null;
  private kernels: Kernels | null = null;
  private memory: WebAssembly.Memory | null = null;

  async run(task: RenderTask): Promise<void> {
    if (task.kind === 'open') {
      if (this.memory !== task.memory || !this.kernels) this.kernels = await instantiateKernels(task.module, task.memory);
      this.memory = task.memory;
      this.strips = new StripRenderer(this.kernels, task.plan, task.memory, task.worker);
      return;
    }
    if (!this.strips) throw new Error('A render worker was given work before it was opened.');
    if (task.kind === 'octave') this.strips.buildOctave(task.octave, task.from, task.to);
    else this.strips.renderStrip(task.recipe, task.from, task.to, task.content);
  }
}
