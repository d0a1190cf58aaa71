import { DestroyRef, Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import {
  type ClipTimes,
  type FrameWeight,
  type LitWeights,
  type Noise,
  type Recipe,
  type Timeline,
  evenTimes,
  flickerGains,
  frameAt,
  frameRate,
  litWeights,
  meantRate,
  needsNoise,
  neutralRecipe,
  retimed,
  timelineOf,
} from '@hazy-lens/core';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { Brightness } from '../../engine/footage/brightness';
import { FrameMender } from '../../engine/footage/frame-mender';
import { mendedFootage } from '../../engine/footage/mended-footage';
import { NoiseMeasurer } from '../../engine/footage/noise-measurer';
import { LatestTask } from '../../engine/latest-task';
import type { MediaSource } from '../../engine/media-source';
import type { Picture } from '../../engine/picture';
import { OpenProject } from '../session/open-project';
import { Playhead } from './playhead';
import { ProjectNotices } from '../session/project-notices';
import { reasonOf, sentenceOf } from '../../model/causes';
import { projectWords } from '../../words/project';

/** The footage that is open: its times, what the pace makes of them, and which frame is in view. */
@Injectable()
export class Footage {
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly project = inject(OpenProject);
  private readonly playhead = inject(Playhead);
  private readonly measured = inject(Brightness);
  private readonly noiseMeasurer = inject(NoiseMeasurer);
  private readonly notices = inject(ProjectNotices);
  private readonly frameMender = inject(FrameMender);
  readonly facts = computed(() => this.renderLoop.material()?.footage ?? null);
  readonly isOpen = computed(() => this.facts() !== null);
  /** Numbered pictures, which come at whatever rate is chosen. */
  readonly isNumbered = computed(() => this.isOpen() && this.project.source()?.type === 'frames');
  readonly times = computed<ClipTimes>(() => {
    const times = this.facts()?.times ?? { starts: [0], end: 1 / 30 };
    const { rate } = this.project.state().work;
    return rate && this.isNumbered() ? evenTimes(times.starts.length, meantRate(rate)) : times;
  });
  /** Frames a second of the source. */
  readonly rate = computed(() => frameRate(this.times()));
  private readonly pace = computed(() => this.project.keyed().pace);
  readonly timeline = computed<Timeline>(() => timelineOf(this.pace(), this.times()));
  /** What of the recipe the mends of frames rest on. */
  private readonly mended = computed(() => mendParts(this.project.keyed()), { equal: sameMends });
  /** What is open, with the mends of the recipe on its frames. */
  readonly material = computed<MediaSource | null>(() => {
    const material = this.renderLoop.material();
    if (!material?.footage) return material;
    return mendedFootage(material, { ...neutralRecipe(), ...this.mended() }, this.times(), this.frameMender);
  });
  /** Where the playhead is, or is on its way to, in seconds of the source. */
  readonly at = this.playhead.target.asReadonly();
  /** Where the playhead is in footage; null for a still, whose moments are all one. */
  readonly moment = computed(() => (this.isOpen() ? this.at() : null));
  /** The frame of the source at the playhead. */
  readonly frame = computed(() => frameAt(this.times(), this.at()));
  /** True while small pictures of the source are made, all along it: the machine is busy with that. */
  readonly isSurveyed = signal(false);
  /** Counts what was asked for: only the newest is shown. */
  private turn = 0;
  /** How bright each frame is, in stops; null until it was measured. */
  readonly brightness = signal<Float64Array | null>(null);
  private readonly gains = computed(() => {
    const stops = this.brightness();
    const { on, deflicker } = this.pace();
    return stops && on && deflicker.amount > 0 ? flickerGains(stops, this.times(), deflicker) : null;
  });
  /** How the frames of the picture in view are averaged, see `lit`; null where it is one of them. */
  private readonly averaged = signal<LitWeights | null>(null);
  /** The frame of the picture in view, or that with the greatest share in it. */
  private readonly shown = computed(() => frameAt(this.times(), this.playhead.time()));
  /** What the light of the picture in view is multiplied by. */
  readonly light = computed(() => this.averaged()?.light ?? this.gains()?.[this.shown()] ?? 1);
  private readonly noiseNow = signal<Noise | undefined>(undefined);
  /** Of the picture in view, smoothed over time: while it is measured, of the last that is known. Undefined where no step asks for it. */
  readonly noise = this.noiseNow.asReadonly();
  private readonly newestNoise = new LatestTask<NoiseWish>(
    async ({ material, times, frame, shares }) => {
      const noise = await this.noiseMeasurer.of(material).of(times, frame, shares);
      if (material === this.material()) this.noiseNow.set(noise);
    },
    () => undefined,
  );
  private readonly wantsBrightness = computed(() => this.isOpen() && this.pace().deflicker.amount > 0);

  constructor() {
    effect(() => {
      // Where other mends lie on the frame in view, it is shown anew.
      if (this.material()?.footage) untracked(() => void this.seekTime(this.at()));
    });
    effect(() => {
      const material = this.material();
      if (!material?.footage || !needsNoise(this.project.recipe())) return;
      const frame = this.shown();
      const shares = this.averaged()?.shares ?? [{ frame, share: 1 }];
      this.newestNoise.submit({ material, times: this.times(), frame, shares });
    });
    inject(DestroyRef).onDestroy(() => this.newestNoise.end());
    effect(() => {
      const material = this.renderLoop.material();
      if (material && this.wantsBrightness()) untracked(() => void this.measure(material));
    });
  }

  /** Puts a frame of the source in view. */
  async seek(frame: number): Promise<void> {
    const material = this.material();
    if (!material?.footage) return;
    const { starts } = this.times();
    const index = Math.min(starts.length - 1, Math.max(0, Math.round(frame)));
    const time = starts[index]!;
    const turn = ++this.turn;
    this.playhead.target.set(time);
    let picture: Picture;
    try {
      picture = await material.frame(index);
    } catch (error) {
      if ((error as Error).name !== 'AbortError') this.notices.error(sentenceOf(error), 'unread frame');
      return;
    }
    if (turn !== this.turn) return;
    this.put(picture, time);
    const reason = material.unread.get(index);
    if (reason) this.notices.info(projectWords.thePreviousFrameIsShownInstead(reason), 'unread frame');
    else this.notices.clear('unread frame');
  }

  /** Has numbered pictures come at another rate; keys, trim and curve stay on their pictures, and so does the view. */
  async setRate(rate: number, gesture: string | null): Promise<void> {
    const factor = this.rate() / rate;
    const frame = this.frame();
    this.project.editWork(
      projectWords.frameRate,
      (draft) => {
        draft.rate = rate;
        Object.assign(draft.recipe, retimed(draft.recipe, factor));
      },
      gesture,
    );
    await this.seek(frame);
  }

  seekTime(time: number): Promise<void> {
    return this.seek(frameAt(this.times(), time));
  }

  /** The frames of a picture, each with its light made even where that is wanted. */
  lit(shares: FrameWeight[]): LitWeights {
    return litWeights(shares, this.gains());
  }

  /**
   * Puts a picture in view that shows a frame of the source.
   * @param time of that frame. @param averaged how it is averaged from several.
   */
  put(picture: Picture, time: number, averaged: LitWeights | null = null): void {
    this.playhead.target.set(time);
    this.averaged.set(averaged);
    this.playhead.time.set(time);
    this.renderLoop.show(picture);
  }

  private async measure(material: MediaSource): Promise<void> {
    try {
      this.brightness.set(await this.measured.of(material));
    } catch (error) {
      if ((error as Error).name !== 'AbortError')
        this.notices.error(projectWords.frameBrightnessCouldntBe(reasonOf(error)), 'brightness');
    }
  }
}

interface NoiseWish {
  material: MediaSource;
  times: ClipTimes;
  frame: number;
  shares: readonly FrameWeight[];
}

type MendParts = Pick<Recipe, 'tidy' | 'keys'>;

function mendParts({ tidy, keys }: Recipe): MendParts {
  return { tidy, keys: keys.filter(({ of }) => of.startsWith('tidy/mends/')) };
}

function sameMends(a: MendParts, b: MendParts): boolean {
  return (
    a.tidy.on === b.tidy.on &&
    a.tidy.mends === b.tidy.mends &&
    a.keys.length === b.keys.length &&
    a.keys.every((key, i) => key === b.keys[i])
  );
}
