import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const alias = { '@hazy-lens/core': fileURLToPath(new URL('core/src/index.ts', import.meta.url)) };
const seed = './core/test/seed.ts';
// Angular's libraries come half compiled; this finishes them where no build does.
const angular = '@angular/compiler';
const isolated = 'web/test/isolated/**';
const tests = (
  name: string,
  test: { include: string[]; exclude?: string[]; setupFiles: string[]; isolate: boolean },
) => ({
  resolve: { alias },
  test: { name, testTimeout: 300_000, ...test },
});

export default defineConfig({
  test: {
    // Each of two cores has files to run.
    maxWorkers: 2,
    projects: [
      // What leaves nothing behind shares one world.
      tests('computation', {
        include: ['core/test/**/*.test.ts', 'server/test/**/*.test.ts'],
        setupFiles: [seed],
        isolate: false,
      }),
      tests('application', {
        include: ['web/test/**/*.test.ts'],
        exclude: [isolated],
        setupFiles: [angular, seed],
        isolate: false,
      }),
      // Tests that put something in the place of modules or of the page's globals.
      tests('application-isolated', {
        include: [`${isolated}/*.test.ts`],
        setupFiles: [angular, seed],
        isolate: true,
      }),
    ],
  },
});
