// Makes sure that everything a command needs is installed and built, and does nothing where it is.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  readFileSync,
  readdirSync,
  renameSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';
import { licences } from './licences.mjs';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const cache = join(root, '.cache');

/** Runs a program; its output goes to standard error, so that a command's own output stays clean. */
export function run(program, args, options = {}) {
  const result = spawnSync(program, args, {
    cwd: root,
    stdio: ['ignore', process.stderr, process.stderr],
    ...options,
  });
  if (result.status !== 0) throw new Error(`${program} ${args.join(' ')} failed`);
}

/** Path of a program that an npm package brings. */
export const bin = (name) => join(root, 'node_modules', '.bin', name);

function files(path) {
  const full = join(root, path);
  if (!existsSync(full)) return [];
  if (!statSync(full).isDirectory()) return [path];
  return readdirSync(full)
    .filter((name) => !['node_modules', 'dist', 'test', '.angular'].includes(name))
    .flatMap((name) => files(join(path, name)));
}

function fingerprint(paths, byContent) {
  const hash = createHash('sha256');
  for (const path of paths.flatMap(files).sort()) {
    const { mtimeMs, size } = statSync(join(root, path));
    hash.update(byContent ? `${path}\n${readFileSync(join(root, path))}\n` : `${path} ${mtimeMs} ${size}\n`);
  }
  return hash.digest('hex');
}

/** Runs a step unless nothing it reads has changed since, and what it makes is still there. */
function step(name, { reads, makes, byContent = false }, work) {
  const stamp = join(cache, `${name}.stamp`);
  const now = fingerprint(reads, byContent);
  const fresh =
    existsSync(stamp) &&
    readFileSync(stamp, 'utf8') === now &&
    makes.every((path) => existsSync(join(root, path)));
  if (fresh) return;
  process.stderr.write(`Hazy Lens: ${name} …\n`);
  work();
  mkdirSync(cache, { recursive: true });
  writeFileSync(stamp, now);
}

export function install() {
  step(
    'installing packages',
    { reads: ['package-lock.json'], makes: ['node_modules/@angular', 'node_modules/sharp'], byContent: true },
    () => run('npm', ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error']),
  );
}

export function buildKernels() {
  step(
    'compiling the kernels',
    { reads: ['core/kernels', 'package-lock.json'], makes: ['core/dist/kernels.wasm'] },
    () => compileKernels('core/dist/kernels.wasm'),
  );
}

/** @param more options of the compiler. */
export function compileKernels(out, ...more) {
  run(bin('asc'), [
    'core/kernels/index.ts',
    '-o',
    out,
    '-O3',
    '--noAssert',
    '--runtime',
    'stub',
    '--enable',
    'simd,threads',
    '--importMemory',
    '--sharedMemory',
    '--initialMemory',
    '1',
    '--maximumMemory',
    '65536',
    '--noExportMemory',
    ...more,
  ]);
}

/** Bundles programs for Node.js into `server/dist`, each as `name=source`. */
export function bundleForNode(...programs) {
  run(bin('esbuild'), [
    ...programs,
    '--bundle',
    '--platform=node',
    '--format=esm',
    '--target=node20',
    '--packages=external',
    '--alias:@hazy-lens/core=./core/src/index.ts',
    '--outdir=server/dist',
    '--out-extension:.js=.mjs',
    '--log-level=warning',
  ]);
}

export function buildServer() {
  buildKernels();
  step(
    'building the server',
    {
      reads: ['core/src', 'core/kernels', 'server/src', 'package-lock.json'],
      makes: ['server/dist/render.mjs'],
    },
    () => {
      bundleForNode(
        'serve=server/src/serve.ts',
        'render=server/src/render/main.ts',
        'render-thread=server/src/render/thread.ts',
        'farm=server/src/farm/main.ts',
      );
      copyFileSync(join(root, 'core/dist/kernels.wasm'), join(root, 'server/dist/kernels.wasm'));
    },
  );
}

/** The worker that reads and writes picture files; it stands beside the libraries that it loads. */
function buildCodecs() {
  step(
    'building the codecs',
    {
      reads: ['core/src', 'web/src/app/engine/codecs', 'package-lock.json'],
      makes: ['.cache/codecs/codec-worker.js'],
    },
    () =>
      run(bin('esbuild'), [
        'web/src/app/engine/codecs/codec.worker.ts',
        '--bundle',
        '--minify',
        '--format=esm',
        '--target=es2022',
        '--alias:@hazy-lens/core=./core/src/index.ts',
        '--outfile=.cache/codecs/codec-worker.js',
        '--log-level=warning',
      ]),
  );
}

export function buildWeb() {
  buildKernels();
  buildCodecs();
  step(
    'building the application',
    {
      reads: [
        'core/src',
        'core/kernels',
        'web/src',
        '.cache/codecs',
        'web/tsconfig.json',
        'web/package.json',
        'angular.json',
        'tsconfig.json',
        'demo/pictures',
        'demo/footage',
        'package-lock.json',
        'tools/licences.mjs',
      ],
      makes: ['web/dist/browser/index.html'],
    },
    () => {
      run(bin('ng'), ['build', '--progress=false']);
      writeFileSync(join(root, built, 'licences.txt'), licences(root, 'web'));
      nameByContent();
      buildServiceWorker();
      compressFiles();
    },
  );
}

const built = 'web/dist/browser';

/** Eight letters and digits that say what is in files. */
const hashOf = (...paths) => fingerprint(paths, true).slice(0, 8).toUpperCase();

/**
 * What the page fetches by name gets a hash into it, as scripts have one already: a tab of another version never gets this
 * one's. The page says what the names are.
 */
function nameByContent() {
  const kernels = `kernels-${hashOf(`${built}/kernels.wasm`)}.wasm`;
  const codecs = `codecs/${hashOf(`${built}/codecs`)}`;
  renameSync(join(root, built, 'kernels.wasm'), join(root, built, kernels));
  renameSync(join(root, built, 'codecs'), join(root, built, 'codecs-unnamed'));
  mkdirSync(join(root, built, 'codecs'));
  renameSync(join(root, built, 'codecs-unnamed'), join(root, built, codecs));
  const page = join(root, built, 'index.html');
  const names = JSON.stringify({ kernels, codecs }).replaceAll('"', '&quot;');
  const [before, after] = readFileSync(page, 'utf8').split('<meta name="built-files" content="');
  if (!after) throw new Error('The page has no place for the names of built files.');
  writeFileSync(page, `${before}<meta name="built-files" content="${names}${after}`);
}

/** Compresses whatever has its hash in its name, once for all requests. */
function compressFiles() {
  for (const path of files(built).filter((one) => /[-/][A-Z0-9]{8}[./].*(js|css|wasm)$/.test(one))) {
    const bytes = readFileSync(join(root, path));
    writeFileSync(join(root, `${path}.gz`), gzipSync(bytes));
    // A compromise: higher qualities take far longer.
    const quality = { [constants.BROTLI_PARAM_QUALITY]: 5 };
    writeFileSync(join(root, `${path}.br`), brotliCompressSync(bytes, { params: quality }));
  }
}

/** The worker that keeps the application in the browser: it is told every file of it, with its hash. */
function buildServiceWorker() {
  const list = files(built).map((path) => {
    const url = path.slice(built.length + 1);
    const isHashed = /-[A-Z0-9]{8}\.(js|css|woff2|wasm)$|^codecs\/[A-Z0-9]{8}\//.test(url);
    return { url, revision: isHashed ? null : fingerprint([path], true) };
  });
  run(bin('esbuild'), [
    'web/src/service-worker/service-worker.ts',
    '--bundle',
    '--minify',
    '--target=es2022',
    `--define:FILES=${JSON.stringify(list)}`,
    '--define:process.env.NODE_ENV="production"',
    `--outfile=${built}/service-worker.js`,
    '--log-level=warning',
  ]);
}
