import { Injectable, signal } from '@angular/core';
import { z } from 'zod';
import { AdvisedError } from '../model/causes';
import { filesWords } from '../words/files';

const HERE = z.object({ farm: z.object({ host: z.string() }).nullable() });
const STORED = z.object({ hash: z.string() });
const SENT = z.object({ id: z.string() });
const STATE = z.object({
  frames: z.number(),
  part: z.number(),
  parts: z.number(),
  done: z.number(),
  cancelled: z.boolean(),
  failed: z.array(z.object({ from: z.number(), why: z.string() })),
});
/** How far a job of the farm has got. */
export type FarmState = z.infer<typeof STATE>;

/** The farm that this page's server knows of: machines that render clips part by part. */
@Injectable({ providedIn: 'root' })
export class FarmClient {
  private readonly found = signal<string | null>(null);
  /** Where the farm is served; null where there is none. */
  readonly host = this.found.asReadonly();
  private looked: Promise<void> | null = null;

  /** Asks once whether there is a farm. */
  look(): Promise<void> {
    return (this.looked ??= this.lookNow());
  }

  private async lookNow(): Promise<void> {
    // Offline there is none.
    const answer = await fetch('/farm/').catch(() => null);
    const read = answer?.ok ? HERE.safeParse(await answer.json().catch(() => null)) : null;
    this.found.set(read?.data?.farm?.host ?? null);
  }

  /** Puts a file into the farm's store. @returns its hash. */
  async put(file: Blob, signal: AbortSignal): Promise<string> {
    return (await this.ask('/farm/store', STORED, signal, { method: 'POST', body: file })).hash;
  }

  /** Queues a job whose files are stored. @returns its id. */
  async send(order: { title: string; manifest: string; part: number }, signal: AbortSignal): Promise<string> {
    const body = JSON.stringify(order);
    const headers = { 'content-type': 'application/json' };
    return (await this.ask('/farm/jobs', SENT, signal, { method: 'POST', headers, body })).id;
  }

  state(id: string, signal: AbortSignal): Promise<FarmState> {
    return this.ask(`/farm/jobs/${id}`, STATE, signal);
  }

  /** What a finished job has become. */
  async result(id: string, signal: AbortSignal): Promise<Blob> {
    return (await this.answer(`/farm/jobs/${id}/result`, signal)).blob();
  }

  /** Takes a job off the farm; one that cannot be reached loses nothing by that. */
  async cancel(id: string): Promise<void> {
    await fetch(`/farm/jobs/${id}`, { method: 'DELETE' }).catch(() => undefined);
  }

  private async ask<T>(
    path: string,
    schema: z.ZodType<T>,
    signal: AbortSignal,
    init?: RequestInit,
  ): Promise<T> {
    const answer = await this.answer(path, signal, init);
    const { success, data } = schema.safeParse(await answer.json().catch(() => null));
    if (!success) throw new AdvisedError(filesWords.theFarmsAnswerCould);
    return data;
  }

  /** @throws AdvisedError with what the farm says is wrong. */
  private async answer(path: string, signal: AbortSignal, init: RequestInit = {}): Promise<Response> {
    let answer: Response;
    try {
      answer = await fetch(path, { ...init, signal });
    } catch (error) {
      signal.throwIfAborted();
      throw new AdvisedError(filesWords.theFarmCantBeReached, {
        cause: error,
      });
    }
    if (!answer.ok) throw new AdvisedError((await answer.text()).slice(0, 200).replace(/\.$/, ''));
    return answer;
  }
}
