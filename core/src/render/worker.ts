import { instantiateKernels } from '../kernels';
import { type BlendTask, blendRows, blendScratchBytes } from '../pixels/blend';
import { type ScaleTask, scaleRows, scratchBytes } from '../pixels/scale';
import { Scratch } from '../memory';
import type { LightLevel } from '../layers/image';
import type { PlaceTask } from '../layers/placing';
import { type TurnTask, turnRows, turnScratchBytes } from '../tidy/rotate';
import type { RenderSheets } from './layer-sheets';
import type { Known } from './measured';
import type { Job } from './settings';
import type { RenderPlan } from './plan';
import type { PassOf } from './sides';
import { StripRenderer } from './strip';

/** What a render worker is told; it carries tasks out in order. `render` names one open render among several. */
export type RenderTask =
  | {
      kind: 'open';
      render: string;
      module: WebAssembly.Module;
      memory: WebAssembly.Memory;
      plan: RenderPlan;
      worker: number;
    }
  | { kind: 'close'; render: string }
  | ({ kind: 'begin'; render: string; job: Job; known: Known } & RenderSheets)
  | { kind: 'haze'; render: string; from: number; to: number }
  | { kind: 'pass'; render: string; of: PassOf; pass: number; from: number; to: number }
  | { kind: 'strip'; render: string; hasHaze: boolean; from: number; to: number }
  | { kind: 'load'; render: string; level: LightLevel; from: number; to: number }
  | { kind: 'place'; render: string; place: PlaceTask; from: number; to: number }
  | { kind: 'scale'; module: WebAssembly.Module; scale: ScaleTask }
  | { kind: 'blend'; module: WebAssembly.Module; blend: BlendTask }
  | { kind: 'turn'; module: WebAssembly.Module; turn: TurnTask };

/** Carries out render tasks; the thread around it only passes messages. */
export class RenderWorker {
  private readonly open = new Map<string, StripRenderer>();
  private readonly scratch = new Scratch();

  async run(task: RenderTask): Promise<void> {
    switch (task.kind) {
      case 'open': {
        const kernels = await instantiateKernels(task.module, task.memory);
        this.open.set(task.render, new StripRenderer(kernels, task.plan, task.memory, task.worker));
        return;
      }
      case 'close':
        this.open.delete(task.render);
        return;
      case 'begin':
        return this.of(task.render).begin(task.job, task.known, task);
      case 'haze':
        return this.of(task.render).fillHaze(task.from, task.to);
      case 'pass':
        return this.of(task.render).pass(task.of, task.pass, task.from, task.to);
      case 'strip':
        return this.of(task.render).render(task.hasHaze, task.from, task.to);
      case 'load':
        return this.of(task.render).load(task.level, task.from, task.to);
      case 'place':
        return this.of(task.render).place(task.place, task.from, task.to);
      case 'scale':
        return scaleRows(await this.scratch.use(task.module, scratchBytes(task.scale)), task.scale);
      case 'turn':
        return turnRows(await this.scratch.use(task.module, turnScratchBytes(task.turn)), task.turn);
      case 'blend':
        return blendRows(await this.scratch.use(task.module, blendScratchBytes(task.blend)), task.blend);
    }
  }

  private of(render: string): StripRenderer {
    const open = this.open.get(render);
    if (!open) throw new Error(`A render worker was given work for "${render}", which isn’t open.`);
    return open;
  }
}
