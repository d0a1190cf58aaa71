import { defaultExportSettings, neutralRecipe } from '@hazy-lens/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { type Exporter } from '../../src/app/engine/export';
import { JobQueue } from '../../src/app/jobs/job-queue';
import { type Held, held } from '../../src/app/jobs/held';
import { type ExportInput, type ExportWish, pictureOrder } from '../../src/app/jobs/picture-order';
import { openOne, services } from '../services';

const saved = vi.hoisted(() => ({
  names: [] as string[],
  fail: null as Error | null,
  gate: Promise.resolve(),
}));
vi.mock('browser-fs-access', () => ({
  fileSave: async (blob: Blob | Promise<Blob>, { fileName }: { fileName: string }) => {
    if (saved.fail) throw saved.fail;
    await saved.gate;
    await blob;
    saved.names.push(fileName);
  },
}));

const wish = (fileName: string): ExportWish => ({
  fileName,
  settings: { ...defaultExportSettings(), kind: 'png' },
});
/** What a picture of an id is made of. */
const pictureOf = (id: string): ExportInput =>
  ({
    picture: { id, width: 10, height: 10 },
    recipe: neutralRecipe(),
    metadata: { exif: null, xmp: null },
  }) as unknown as ExportInput;
const input = (ready: Promise<ExportInput>): Held<ExportInput> => held(ready, () => void letGo++);
let letGo = 0;

/** An exporter whose files are done when they are told to be. */
class FakeExporter {
  readonly started: string[] = [];
  readonly waiting: { finish: (bytes: number) => void; fail: (reason: Error) => void }[] = [];
  report: (progress: { done: number; stage: 'rendering' }) => void = () => undefined;

  export(
    source: ExportInput,
    _: unknown,
    onProgress: typeof this.report,
    signal: AbortSignal,
  ): Promise<Blob> {
    this.started.push(source.picture.id);
    this.report = onProgress;
    return new Promise((resolve, reject) => {
      signal.addEventListener('abort', () => reject(signal.reason as Error));
      this.waiting.push({ finish: (bytes) => resolve(new Blob([new Uint8Array(bytes)])), fail: reject });
    });
  }
}

describe('the queue of exports', () => {
  let exporter: FakeExporter;
  let exports: JobQueue;
  let page: EventTarget;
  const run = (one: ExportWish, of = input(Promise.resolve(pictureOf(one.fileName)))) =>
    exports.run(pictureOrder(exporter as unknown as Exporter, one, of));

  beforeEach(() => {
    saved.names.length = letGo = 0;
    saved.fail = null;
    page = new EventTarget();
    vi.stubGlobal('addEventListener', page.addEventListener.bind(page));
    vi.stubGlobal('window', {});
    exporter = new FakeExporter();
    exports = services(openOne).injector.get(JobQueue);
  });

  it('makes one file after the other, and says what became of each', async () => {
    const [first, second] = [run(wish('a.png')), run(wish('b.png'))];
    expect(exports.jobs().map(({ fileName, says }) => [fileName, says])).toEqual([
      ['a.png', 'Waiting'],
      ['b.png', 'Waiting'],
    ]);
    await vi.waitFor(() => expect(exporter.started).toEqual(['a.png']));
    exporter.report({ done: 0.5, stage: 'rendering' });
    expect(exports.jobs()[0]).toMatchObject({ says: 'Rendering', progress: 0.5 });
    exporter.waiting[0]!.finish(12);
    expect(await first).toEqual({ kind: 'written', bytes: 12 });
    await vi.waitFor(() => expect(exporter.started).toEqual(['a.png', 'b.png']));
    exporter.waiting[1]!.finish(3);
    expect(await second).toEqual({ kind: 'written', bytes: 3 });
    expect(saved.names).toEqual(['a.png', 'b.png']);
    expect(exports.jobs()).toEqual([]);
    expect(letGo).toBe(2);
  });

  it('can be cancelled, and the next goes on', async () => {
    const [first, second] = [run(wish('a.png')), run(wish('b.png'))];
    await vi.waitFor(() => expect(exporter.started).toHaveLength(1));
    exports.cancel(exports.jobs()[0]!);
    expect(await first).toEqual({ kind: 'cancelled' });
    await vi.waitFor(() => expect(exporter.started).toHaveLength(2));
    exporter.waiting[1]!.finish(1);
    expect(await second).toEqual({ kind: 'written', bytes: 1 });
    expect(saved.names).toEqual(['b.png']);
    expect(letGo).toBe(2);
  });

  it('lets the next have its turn while one is paused, and goes on after it', async () => {
    const steps: string[] = [];
    const task = (name: string, parts: number) =>
      exports.work({
        fileName: name,
        canPause: true,
        make: async (_, { waitWhilePaused }) => {
          for (let i = 0; i < parts; i++) {
            await waitWhilePaused();
            steps.push(`${name} ${i}`);
            if (name === 'long' && i === 0) exports.pause(exports.jobs()[0]!, true);
          }
        },
      });
    const [long, short] = [task('long', 3), task('short', 2)];
    await short;
    expect(steps).toEqual(['long 0', 'short 0', 'short 1']);
    exports.pause(exports.jobs()[0]!, false);
    await long;
    expect(steps.slice(3)).toEqual(['long 1', 'long 2']);
    // One that is cancelled while it is paused leaves the turn to others, too.
    const again = task('long', 2);
    await vi.waitFor(() => expect(exports.jobs()[0]?.isPaused).toBe(true));
    exports.cancel(exports.jobs()[0]!);
    await expect(again).rejects.toThrow();
    await task('last', 1);
    expect(steps.at(-1)).toBe('last 0');
  });

  it('says why a file failed, whether its picture, its rendering or its place was at fault', async () => {
    const noPicture = run(wish('a.png'), input(Promise.reject(new Error('There is no picture open.'))));
    expect(await noPicture).toEqual({ kind: 'failed', reason: 'There is no picture open' });
    const tooLarge = run(wish('b.png'));
    await vi.waitFor(() => expect(exporter.waiting).toHaveLength(1));
    exporter.waiting[0]!.fail(new RangeError('Array buffer allocation failed'));
    expect(await tooLarge).toEqual({ kind: 'failed', reason: 'there isn’t enough memory' });
  });

  it('takes a picker that is put away as a cancel, and stops working for it', async () => {
    vi.stubGlobal('window', { showSaveFilePicker: true });
    saved.fail = new DOMException('The user aborted a request.', 'AbortError');
    expect(await run(wish('a.png'))).toEqual({ kind: 'cancelled' });
    expect(exports.jobs()).toEqual([]);
    // What was begun for it does not hold the next one up.
    saved.fail = null;
    const next = run(wish('b.png'));
    await vi.waitFor(() => expect(exporter.started.at(-1)).toBe('b.png'));
    exporter.waiting.at(-1)!.finish(2);
    expect(await next).toMatchObject({ kind: 'written' });
  });

  it('keeps the window from being closed while a file is made', async () => {
    const isHeld = (): boolean => {
      const event = new Event('beforeunload', { cancelable: true });
      page.dispatchEvent(event);
      return event.defaultPrevented;
    };
    expect(isHeld()).toBe(false);
    const job = run(wish('a.png'));
    expect(isHeld()).toBe(true);
    await vi.waitFor(() => expect(exporter.waiting).toHaveLength(1));
    exporter.waiting[0]!.finish(1);
    await job;
    expect(isHeld()).toBe(false);
  });
});
