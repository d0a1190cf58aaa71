import { type FilmSource, encodedFormat, filmed } from '../engine/footage/film';
import type { FilmKind } from '../engine/footage/film-kinds';
import { type FilmOptions, filmWriter } from '../engine/footage/film-writers';
import type { RenderPool } from '../engine/pool';
import type { Order } from './exports';
import { timeLeft } from './time-left';

export interface FilmWish extends Omit<FilmOptions, 'frames' | 'fps' | 'name' | 'sound'> {
  kind: FilmKind;
  fileName: string;
}

/** An order for a film; its source is held until the file is made. */
export function filmOrder(pool: RenderPool, wish: FilmWish, input: Promise<FilmSource>): Order {
  const { kind, fileName } = wish;
  const held = input.then(({ material }) => material.hold());
  held.catch(() => undefined);
  return {
    fileName,
    extension: kind.extension,
    label: kind.label,
    canPause: true,
    async make(report, control) {
      report({ says: 'Preparing' });
      try {
        const source = await input;
        const { frames, fps } = source.timeline;
        const planes = encodedFormat(source.material);
        const options = { ...wish, frames, fps, name: fileName.replace(/\.[^.]+$/, ''), sound: source.sound };
        const writer = await filmWriter(kind, options, planes);
        try {
          const started = performance.now();
          const pictures = filmed(source, wish, writer.format, pool, control.signal, control);
          for await (const { index, bytes } of pictures) {
            await writer.add(bytes, index);
            const done = (index + 1) / frames;
            const elapsed = performance.now() - started;
            const rate = Math.round(((index + 1) * 1000) / elapsed);
            report({
              says: `Picture ${index + 1} of ${frames}, ${rate} a second`,
              done,
              left: timeLeft(done, elapsed),
            });
          }
          return await writer.finish();
        } catch (error) {
          await writer.cancel();
          throw error;
        }
      } finally {
        (await held.catch(() => null))?.();
      }
    },
  };
}
