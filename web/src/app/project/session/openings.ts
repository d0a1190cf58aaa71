import { Injectable, inject, signal } from '@angular/core';
import type { RawPreview } from '@hazy-lens/core';
import type { CodecListener } from '../../engine/codecs/codec';
import { sentenceOf } from '../../model/causes';
import { Notices } from './notices';

/** What is being opened. */
interface Opening {
  name: string;
  /** The share that is decoded, 0..1; null where that is not known. */
  done: number | null;
  /** What a raw file shows of itself meanwhile. */
  preview: RawPreview | null;
}

/** Whether a person asked for something to be opened, or the page does so when it starts. */
export interface OpenedWhen {
  isRequested: boolean;
}
export const ON_REQUEST: OpenedWhen = { isRequested: true };
export const AT_START: OpenedWhen = { isRequested: false };

/** What an opening knows of those that come after it. */
export interface Turn {
  /** Nothing else was asked for meanwhile, and it was not cancelled. */
  isNewest(): boolean;
  /** Shows how far a picture is decoded, and the preview in a raw file until that is developed. */
  listener: CodecListener;
}

/** What is being opened: one thing at a time, the newest that was asked for. */
@Injectable({ providedIn: 'root' })
export class Openings {
  private readonly notices = inject(Notices);
  private readonly openingNow = signal<Opening | null>(null);
  readonly opening = this.openingNow.asReadonly();
  /** Counts what was asked for. */
  private turn = 0;
  /** A person asked for something since the start: what the page opens by itself comes too late. */
  private requested = false;

  get isRequested(): boolean {
    return this.requested;
  }

  /** The page starts: nothing was asked for yet. */
  begin(): void {
    this.requested = false;
  }

  /** Stops what is being opened; what is open stays. */
  cancel(): void {
    this.turn++;
    this.openingNow.set(null);
  }

  /** Opens something with its name shown; what is asked for later takes its place. Errors are told. */
  async run(name: string, { isRequested }: OpenedWhen, open: (turn: Turn) => Promise<void>): Promise<void> {
    if (this.requested && !isRequested) return;
    this.requested ||= isRequested;
    const turn = ++this.turn;
    const isNewest = (): boolean => turn === this.turn;
    const tell = (news: Partial<Opening>): void => {
      if (isNewest()) this.openingNow.update((now) => now && { ...now, ...news });
    };
    const listener = {
      onProgress: (done: number): void => tell({ done }),
      onPreview: (preview: RawPreview): void => tell({ preview }),
    };
    this.openingNow.set({ name, done: null, preview: null });
    try {
      await open({ isNewest, listener });
    } catch (error) {
      if (isNewest()) this.notices.error(sentenceOf(error));
    } finally {
      if (isNewest()) this.openingNow.set(null);
    }
  }
}
