import { DestroyRef, Injectable, computed, inject, signal } from '@angular/core';
import {
  type Motion,
  type FollowStep,
  type RecipePath,
  type Subject,
  IDENTITY,
  carryPath,
  trackedKeys,
  trackedNumbers,
  frameAt,
  keyPath,
} from '@hazy-lens/core';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import type { FollowWorker } from '../../engine/follow.worker';
import { type MediaSource, readAhead } from '../../engine/media-source';
import { Rasters } from '../../engine/rasters';
import { onceMore } from '../../engine/watch';
import { WorkerClient } from '../../engine/worker-client';
import { followedSubject } from './followed-subject';
import { Footage } from '../footage/footage';
import { OpenProject } from '../session/open-project';
import { ProjectNotices } from '../session/project-notices';
import { reasonOf } from '../../model/causes';
import { projectWords } from '../../words/project';

export type FollowDirection = 'forwards' | 'backwards' | 'both';

/** How sure it was at a time, 0..1. */
export interface TrackConfidence {
  time: number;
  confidence: number;
}

type Followed = Motion & FollowStep;

/** Frames on which the subject was not to be seen, first and last, in the order of time. */
type Gap = readonly [number, number];

/** One way through the clip, as far as the subject was found. */
interface Leg {
  steps: Followed[];
  /** Where it was hidden and came back. */
  gaps: Gap[];
  /** The first frame of those to its end on which it was not to be seen; null where it was there. */
  lostAt: number | null;
}

/** Ground that went so far another way, in pixels, is worth a word. */
const APART_PX = 4;
/** Less sure than this, it is said where. */
const SURE = 0.5;
/** Less like itself than this, a subject has changed so much that its outline needs to be looked at. */
const MIN_LIKENESS = 0.6;

/** How a gap is spoken of. */
const framesOf = ([from, to]: Gap): string =>
  from === to ? projectWords.atFrame(from + 1) : projectWords.fromFrameTo(from + 1, to + 1);

/** A subject that has changed is as unsure as one that is hard to find. */
const surenessAt = ({ time, confidence, likeness }: Followed): TrackConfidence => ({
  time,
  confidence: Math.min(confidence, likeness),
});

/** Frames that are decoded in order, at most, before they are followed backwards: decoders only go forwards. */
const MAX_AHEAD = 48;
const ABOUT = 'following';

/** Lets a part of the focus follow what it lies on through the clip: what comes of it are keys, and how sure each is. */
@Injectable()
export class Following {
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly footage = inject(Footage);
  private readonly project = inject(OpenProject);
  private readonly notices = inject(ProjectNotices);
  private readonly rasters = inject(Rasters);
  private readonly running = signal<{ owner: string; done: number; stop: AbortController } | null>(null);
  /** What is followed just now and how far it got, 0..1; null where nothing is. */
  readonly progress = computed(() => this.running());
  private readonly sure = signal<ReadonlyMap<string, readonly TrackConfidence[]>>(new Map());
  private readonly closed = new AbortController();

  constructor() {
    inject(DestroyRef).onDestroy(() => this.closed.abort());
  }

  surenessOf(owner: string): readonly TrackConfidence[] {
    return this.sure().get(owner) ?? [];
  }

  stop(): void {
    this.running()?.stop.abort();
  }

  /**
   * Follows what a part of the recipe lies on at the frame in view.
   * @param label what it is called. @param lookAt another part, where that shows better what is to be followed.
   */
  async follow(
    place: RecipePath,
    label: string,
    way: FollowDirection,
    lookAt: RecipePath = place,
  ): Promise<void> {
    const material = this.renderLoop.material();
    if (!material?.footage || this.running()) return;
    const recipe = this.project.recipe();
    const owner = keyPath(recipe, carryPath(recipe, place) ?? place);
    const start = this.footage.frame();
    const stop = new AbortController();
    this.notices.clear(ABOUT);
    this.running.set({ owner, done: 0, stop });
    const last = material.frames - 1;
    const total = (way === 'backwards' ? 0 : last - start) + (way === 'forwards' ? 0 : start);
    let done = 0;
    const tell = (): void => this.running.set({ owner, done: ++done / Math.max(1, total), stop });
    try {
      const own = await followedSubject(recipe, place, material, this.rasters);
      const looked = await followedSubject(recipe, lookAt, material, this.rasters);
      const subject = { ...looked, at: own.at };
      const legs: Leg[] = [];
      const go = async (end: number): Promise<Leg> => {
        const before = done;
        return onceMore(() => {
          done = before;
          return this.leg(material, subject, start, end, stop.signal, tell);
        });
      };
      if (way !== 'forwards') legs.push(await go(0));
      if (way !== 'backwards') legs.push(await go(last));
      if (this.closed.signal.aborted) return;
      const times = this.footage.times().starts;
      const here = {
        time: times[start]!,
        motion: IDENTITY,
        isSeen: true,
        confidence: 1,
        likeness: 1,
        apart: 0,
      };
      const steps = [...legs.flatMap((leg) => leg.steps), here].sort((a, b) => a.time - b.time);
      this.keep(place, label, owner, steps, material, own.box);
      await this.tell(label, place, steps, legs);
    } catch (error) {
      if (this.closed.signal.aborted) return;
      this.notices.error(projectWords.couldntBeFollowed(label, reasonOf(error)), ABOUT);
    } finally {
      this.running.set(null);
    }
  }

  /** One way through the clip; ends early where the subject is lost or the person stops it. */
  private async leg(
    material: MediaSource,
    subject: Subject,
    start: number,
    end: number,
    signal: AbortSignal,
    tell: () => void,
  ): Promise<Leg> {
    const worker = new WorkerClient<FollowWorker>(
      () => new Worker(new URL('../../engine/follow.worker', import.meta.url), { type: 'module' }),
    );
    const follower = worker.with({ signal: this.closed.signal });
    const steps: Followed[] = [];
    const gaps: Gap[] = [];
    let hidden: number | null = null;
    const { format } = material.footage!;
    const { starts } = this.footage.times();
    try {
      const look = async <T>(i: number, at: (pixels: SharedArrayBuffer) => Promise<T>): Promise<T> => {
        const { picture, giveBack } = await material.borrow(i);
        return at(picture.rawPixels).finally(giveBack);
      };
      const { width, height } = material;
      await look(start, (pixels) => follower.begin(pixels, format, { width, height }, subject));
      const way = Math.sign(end - start);
      const ahead = Math.min(MAX_AHEAD, material.keeps);
      for (let i = start + way; way !== 0 && (end - i) * way >= 0; i += way) {
        if (signal.aborted) break;
        this.closed.signal.throwIfAborted();
        if (way < 0 && (start - 1 - i) % ahead === 0)
          for (let k = Math.max(0, i - ahead + 1); k <= i; k++) await readAhead(material, k);
        // The next frame is decoded while this one is looked at.
        if (way > 0 && i < end) void readAhead(material, i + 1);
        const step = await look(i, (pixels) => follower.next(pixels));
        if (!step.isSeen) hidden ??= i;
        else {
          if (hidden !== null) gaps.push(way > 0 ? [hidden, i - 1] : [i + 1, hidden]);
          hidden = null;
          steps.push({ time: starts[i]!, ...step });
        }
        tell();
      }
      return { steps, gaps, lostAt: hidden };
    } finally {
      worker.end();
    }
  }

  /** Tells what ought to be looked at, and shows the first such frame. */
  private async tell(
    label: string,
    place: RecipePath,
    steps: readonly Followed[],
    legs: readonly Leg[],
  ): Promise<void> {
    const name = `“${label}”`;
    const frameOf = ({ time }: Followed): number => frameAt(this.footage.times(), time);
    const lost = legs.find(({ lostAt }) => lostAt !== null)?.lostAt ?? null;
    const gaps = legs.flatMap((leg) => leg.gaps).sort((a, b) => a[0] - b[0]);
    const isCutOut = place[1] === 'mattes';
    const changed = steps.find(({ likeness }) => isCutOut && likeness < MIN_LIKENESS);
    const unsure = steps.find(({ confidence }) => confidence < SURE);
    const words: string[] = [];
    if (steps.some(({ apart }) => apart > APART_PX))
      words.push(`${name} followed what is inside it; the ground around it moves differently.`);
    if (gaps.length > 0) words.push(projectWords.wasHiddenItsKeysGo(name, gaps.map(framesOf).join(', ')));
    if (lost !== null) words.push(projectWords.wasLostAtFrameEarlier(name, lost + 1));
    else if (changed)
      words.push(
        `${name} changes from frame ${frameOf(changed) + 1}. Check the outline where its lane is thin; scribble there to redo the cut-out.`,
      );
    else if (unsure) words.push(projectWords.followingWasUnsureAtFrame(frameOf(unsure) + 1, name));
    if (words.length > 0) this.notices.info(words.join(' '), ABOUT);
    const doubtful = lost ?? gaps[0]?.[0] ?? null;
    if (doubtful !== null) await this.footage.seek(doubtful);
  }

  /** New keys take the place of those in the time that was followed; the rest stays. */
  private keep(
    place: RecipePath,
    label: string,
    owner: string,
    steps: readonly Followed[],
    material: MediaSource,
    box: Subject['box'],
  ): void {
    const [from, to] = [steps[0]!.time, steps.at(-1)!.time];
    const recipe = this.project.recipe();
    const keys = trackedKeys(recipe, place, steps, material, box);
    const paths = new Set(trackedNumbers(recipe, place).map((at) => keyPath(recipe, at)));
    this.project.edit(projectWords.follow(label), (draft) => {
      const kept = draft.keys.filter(({ of, at }) => !paths.has(of) || at < from - 1e-6 || at > to + 1e-6);
      draft.keys = [...kept, ...keys].sort((a, b) => a.at - b.at);
    });
    this.sure.update((all) => {
      const before = (all.get(owner) ?? []).filter(({ time }) => time < from - 1e-6 || time > to + 1e-6);
      const now = [...before, ...steps.map(surenessAt)];
      return new Map(all).set(
        owner,
        now.sort((a, b) => a.time - b.time),
      );
    });
  }
}
