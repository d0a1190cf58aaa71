import { Injectable, computed, inject } from '@angular/core';
import { IDENTITY_CARRY, MEND_LIMITS, type Mend, type Point, simplified } from '@hazy-lens/core';
import { Footage } from '../project/footage/footage';
import { Notices } from '../project/session/notices';
import { OpenProject } from '../project/session/open-project';
import { ViewStore } from '../workspace/view-store';
import { MendTool } from '../workspace/mend-tool';
import type { Spot } from './handles/handles';
import type { StageDrag } from './stage-drag';
import { pointWithin } from '../model/carry';
import { stageWords } from '../words/stage';

/** The hand that mends: a stroke over what should go, or over which is copied from elsewhere. */
@Injectable()
export class MendBrush {
  private readonly project = inject(OpenProject);
  private readonly viewStore = inject(ViewStore);
  private readonly footage = inject(Footage);
  private readonly notices = inject(Notices);
  private readonly tool = inject(MendTool);
  /** True where a hand on the picture mends. */
  readonly isReady = computed(
    () => this.viewStore.step() === 'tidy' && this.project.isOpen() && this.tool.kind() !== null,
  );

  /** A stroke from a place of the picture on; null if the press only set the clone source. */
  start(at: Spot): StageDrag | null {
    const kind = this.tool.kind();
    if (!kind) return null;
    if (this.tool.mends().length >= MEND_LIMITS.mends) {
      this.notices.info(stageWords.aPictureCanHaveTouch(MEND_LIMITS.mends), 'mends');
      return null;
    }
    const { width, height } = this.project.size();
    const pointOf = ({ x, y }: Spot): Point => pointWithin([x / width, y / height], MEND_LIMITS.place);
    const first = pointOf(at);
    const from = kind === 'copy' ? this.wayTo(first) : ([0, 0] as const);
    if (!from) return null;
    const time = this.footage.moment();
    const mend: Mend = {
      id: crypto.randomUUID(),
      on: true,
      kind,
      radius: this.tool.radius(),
      softness: this.tool.softness(),
      points: [first],
      from: [...from],
      carry: IDENTITY_CARRY,
      ...(time !== null && { at: time }),
    };
    this.tool.set({ live: mend });
    return {
      every: true,
      move: (to) => this.tool.extend(pointOf(to)),
      end: () => this.end(),
      cancel: () => this.tool.set({ live: null }),
    };
  }

  /** The way from where one paints to where a copy comes from; null where that is only being said. */
  private wayTo(at: Point): Point | null {
    const source = this.tool.source();
    if (!source) {
      this.tool.set({ source: { at } });
      return null;
    }
    if ('way' in source) return source.way;
    const way = pointWithin([source.at[0] - at[0], source.at[1] - at[1]], MEND_LIMITS.from);
    this.tool.set({ source: { way } });
    return way;
  }

  /** What was painted joins the recipe. */
  private end(): void {
    const live = this.tool.live();
    this.tool.set({ live: null });
    if (!live) return;
    const tolerance = Math.max(0.3, this.tool.radiusPx() * 0.05);
    const points = simplified(live.points, this.project.size(), tolerance)
      .slice(0, MEND_LIMITS.points)
      .map(([x, y]): Point => [x, y]);
    this.project.edit(live.kind, ({ tidy }) => void tidy.mends.push({ ...live, points }));
  }
}
