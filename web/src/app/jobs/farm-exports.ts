import { Injectable, inject } from '@angular/core';
import { type Recipe, renameReferences, usedFiles, type ClipFormat } from '@hazy-lens/core';
import { FarmClient, type FarmState } from '../engine/farm-client';
import { AdvisedError } from '../model/causes';
import type { FileJobSpec, Report } from './job-queue';
import { timeLeft } from './time-left';
import { queueWords } from '../words/queue';

/** All that leaves this machine for a clip of the farm. */
export interface FarmInput {
  /** The footage’s file as it was opened: a clip, or a zip of frames. */
  footage: Blob;
  name: string;
  recipe: Recipe;
  /** Frames a second of numbered pictures; null for other footage. */
  rate: number | null;
  /** What the recipe names. */
  fileOf(name: string): Promise<Blob>;
}

/** Kinds of clips that a farm writes. */
const FARM_KINDS: readonly string[] = ['mp4', 'webm', 'gif', 'png'];
export const isFarmKind = ({ id }: ClipFormat): boolean => FARM_KINDS.includes(id);

/** Frames of a part: a few seconds of work for a machine. */
const PART_FRAMES = 24;
const LOOK_MS = 700;

/** Has clips rendered by a farm: sends what they are made of, looks how far they are, and fetches them. */
@Injectable({ providedIn: 'root' })
export class FarmExports {
  private readonly farm = inject(FarmClient);

  /** An order for a clip; `input` is what was open when it was ordered. */
  order(input: Promise<FarmInput>, kind: ClipFormat, fileName: string): FileJobSpec {
    return {
      fileName,
      extension: kind.extension,
      label: kind.label,
      canPause: false,
      isElsewhere: true,
      make: async (report, { signal }) => {
        const id = await this.send(await input, kind, fileName, report, signal);
        try {
          await this.finished(id, report, signal);
          report({ says: queueWords.fetchingFromTheFarm, remaining: null });
          return await this.farm.result(id, signal);
        } catch (error) {
          if (signal.aborted) await this.farm.cancel(id);
          throw error;
        }
      },
    };
  }

  private async send(
    { footage, name, recipe, rate, fileOf }: FarmInput,
    kind: ClipFormat,
    title: string,
    report: Report,
    signal: AbortSignal,
  ): Promise<string> {
    report({ says: queueWords.sendingToTheFarm });
    const companions: { name: string; hash: string }[] = [];
    const names = new Map<string, string>();
    for (const file of new Set(usedFiles(recipe))) {
      const own = `${companions.length}${/\.\w+$/.exec(file)?.[0] ?? ''}`;
      companions.push({ name: own, hash: await this.farm.put(await fileOf(file), signal) });
      names.set(file, own);
    }
    const stored = { name, hash: await this.farm.put(footage, signal) };
    const isArchive = /\.zip$/i.test(name) || footage.type === 'application/zip';
    const manifest = {
      recipe: JSON.stringify(renameReferences(recipe, names)),
      companions,
      input: isArchive ? { archive: stored } : { clip: stored },
      fps: rate,
      output: kind.writer.by === 'frames' ? { ending: '.png' } : { clip: kind.extension },
      metadata: 'none',
    };
    const hash = await this.farm.put(new Blob([JSON.stringify(manifest)]), signal);
    return this.farm.send({ title, manifest: hash, part: PART_FRAMES }, signal);
  }

  private async finished(id: string, report: Report, signal: AbortSignal): Promise<void> {
    const started = performance.now();
    for (;;) {
      const state = await this.farm.state(id, signal);
      if (state.cancelled) throw new AdvisedError(queueWords.itWasCancelledOnTheFarm);
      if (state.done + state.failed.length >= state.parts) return checkWhole(state);
      const done = Math.min(state.frames, state.done * state.part);
      const share = state.done / state.parts;
      report({
        says: queueWords.frameOfOnTheFarm(done, state.frames),
        progress: share,
        remaining: share > 0 ? timeLeft(share, performance.now() - started) : null,
      });
      await waited(LOOK_MS, signal);
    }
  }
}

/** @throws AdvisedError that names what failed. */
function checkWhole({ failed, part, frames }: FarmState): void {
  const [first] = failed;
  if (!first) return;
  const to = Math.min(frames, first.from + part);
  throw new AdvisedError(
    queueWords.framesToFailedOnTheFarm(first.from + 1, to, first.why.replace(/\.$/, '')),
  );
}

const waited = (ms: number, signal: AbortSignal): Promise<void> =>
  new Promise((resolve, reject) => {
    const timer = setTimeout(resolve, ms);
    signal.addEventListener(
      'abort',
      () => {
        clearTimeout(timer);
        reject(signal.reason as Error);
      },
      { once: true },
    );
  });
