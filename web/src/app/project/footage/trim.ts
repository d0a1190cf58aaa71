import { Injectable, computed, inject } from '@angular/core';
import { endOf, nearestFrame, trimOf } from '@hazy-lens/core';
import { Footage } from './footage';
import { OpenProject } from '../session/open-project';

/** Which part of the footage is kept: where it begins (0) and ends (1). */
@Injectable()
export class Trim {
  private readonly project = inject(OpenProject);
  private readonly footage = inject(Footage);
  readonly part = computed(() => trimOf(this.project.keyed().pace, this.footage.times()));

  /** Puts one end at a time, or at the frame that begins or ends nearest to it; never beyond the other end. */
  set(end: 0 | 1, time: number, gesture: string | null): void {
    const { starts, end: last } = this.footage.times();
    const start = starts[nearestFrame(this.footage.times(), time)]!;
    const nearest = last - time < Math.abs(time - start) ? last : start;
    const [from, to] = this.part();
    this.put(end, end === 0 ? [nearest, to] : [from, nearest], gesture);
  }

  /** Has the kept part begin, or end, with the frame in view; the other end makes way. */
  setHere(end: 0 | 1): void {
    const times = this.footage.times();
    const frame = this.footage.frame();
    const [from, to] = this.part();
    const [begin, finish] = [times.starts[frame]!, endOf(times, frame)];
    this.put(
      end,
      end === 0 ? [begin, to > begin ? to : times.end] : [from < finish ? from : 0, finish],
      null,
    );
  }

  private put(end: 0 | 1, [from, to]: [number, number], gesture: string | null): void {
    const { end: last } = this.footage.times();
    if (to - from < 1e-6) return;
    const isWhole = from < 1e-6 && to > last - 1e-6;
    this.project.edit(
      end === 0 ? 'in' : 'out',
      ({ pace }) => void (pace.trim = isWhole ? null : [from, to]),
      gesture,
    );
  }
}
