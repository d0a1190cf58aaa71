// Where the milliseconds of a render go: profiles of each kind of blur, by kernels, drawn as bars into docs/.
import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { bundleForNode, compileKernels, root } from './prepare.mjs';

/** What the work is for, in the order of the bars; `files` are those of `core/kernels`. */
const GROUPS = [
  { name: 'copying', colour: '#8a8f98', files: [] },
  { name: 'decoding', colour: '#d9a441', files: [], functions: /^decode/ },
  { name: 'field', colour: '#7a9e6b', files: ['field', 'strokes'] },
  { name: 'levels', colour: '#4f8fa8', files: ['convolve', 'levels', 'rotate'] },
  { name: 'discs', colour: '#7d6bb0', files: ['lens'] },
  { name: 'paths', colour: '#b0647a', files: ['streak'] },
  { name: 'colour', colour: '#c46a4a', files: ['colour', 'lut'] },
  { name: 'encoding', colour: '#3f7f74', files: ['transfer', 'yuv'] },
  { name: 'JavaScript', colour: '#5d636e', files: [] },
];
const CHARTS = [
  {
    file: 'costs-still.svg',
    title: 'A still of 24 megapixels',
    kinds: ['gaussian', 'lens', 'motion', 'zoom', 'spin'],
  },
  { file: 'costs-frame.svg', title: 'A frame of 1080p', kinds: ['frame-gaussian', 'frame-lens'] },
];

/** Which group a function's own time belongs to; null for what is no part of a render. */
function groupOf({ functionName, url }) {
  const [, file, kernel] = /core\/kernels\/([a-z]+)\/(?:.*~)?(\w+)/.exec(functionName) ?? [];
  if (file)
    return (
      GROUPS.find(({ functions }) => functions?.test(kernel)) ??
      GROUPS.find(({ files }) => files.includes(file)) ??
      GROUPS.at(-1)
    ).name;
  if (url.endsWith('render-thread.mjs') || functionName === '(garbage collector)') return 'JavaScript';
  return url.endsWith('bench-costs.mjs') || functionName === 'FastBuffer' ? 'copying' : null;
}

/** Milliseconds of all threads by group, for one of so many renders. */
function groupTimes(folder, renders) {
  const ms = Object.fromEntries(GROUPS.map(({ name }) => [name, 0]));
  for (const file of readdirSync(folder)) {
    const { nodes, samples, timeDeltas } = JSON.parse(readFileSync(join(folder, file), 'utf8'));
    const groups = new Map(nodes.map(({ id, callFrame }) => [id, groupOf(callFrame)]));
    for (const [i, id] of samples.entries()) {
      const group = groups.get(id);
      if (group) ms[group] += timeDeltas[i] / 1000 / renders;
    }
  }
  return ms;
}

const labelOf = (kind) => {
  const name = kind.replace('frame-', '');
  return name[0].toUpperCase() + name.slice(1);
};

/** Bars of milliseconds, one for each kind, all of one scale. */
function chart(title, rows) {
  const [left, width, top, height, gap] = [130, 560, 84, 26, 16];
  const most = Math.max(...rows.map(({ ms }) => Object.values(ms).reduce((sum, v) => sum + v, 0)));
  const bars = rows.map(({ kind, ms, wallMs }, i) => {
    const y = top + i * (height + gap);
    let x = left;
    const parts = GROUPS.map(({ name, colour }) => {
      const wide = (ms[name] / most) * width;
      const part = `<rect x="${x.toFixed(1)}" y="${y}" width="${wide.toFixed(1)}" height="${height}" fill="${colour}"><title>${name}: ${Math.round(ms[name])} ms</title></rect>`;
      x += wide;
      return part;
    });
    const says = `<text x="${left - 12}" y="${y + 18}" text-anchor="end">${labelOf(kind)}</text>`;
    return `${says}${parts.join('')}<text x="${(x + 8).toFixed(1)}" y="${y + 18}">${Math.round(wallMs)} ms</text>`;
  });
  const used = GROUPS.filter(({ name }) => rows.some(({ ms }) => ms[name] > 0.005 * most));
  let right = 24;
  const legend = used.map(({ name, colour }) => {
    const x = right;
    right += 34 + 6.5 * name.length;
    return `<rect x="${x}" y="46" width="10" height="10" fill="${colour}"/><text x="${x + 15}" y="55">${name}</text>`;
  });
  const size = `width="800" height="${top + rows.length * (height + gap) + 8}"`;
  return `<svg xmlns="http://www.w3.org/2000/svg" ${size} font-family="sans-serif" font-size="12" fill="#24272c"><rect ${size} fill="#f4f3f0"/><text x="24" y="28" font-size="15">${title}: core time by kind of work, elapsed time at the end of each bar</text>${legend.join('')}${bars.join('')}</svg>\n`;
}

export function costs() {
  const folder = join(root, '.cache/costs');
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  bundleForNode('bench-costs=server/bench/costs.ts');
  compileKernels(join(folder, 'kernels.wasm'), '--debug');
  copyFileSync(join(root, 'server/dist/render-thread.mjs'), join(folder, 'render-thread.mjs'));
  for (const { file, title, kinds } of CHARTS) {
    const rows = kinds.map((kind) => {
      const profiles = join(folder, kind);
      const watched = ['--cpu-prof', '--cpu-prof-interval', '500', '--cpu-prof-dir', profiles];
      const program = join(root, 'server/dist/bench-costs.mjs');
      const { stdout } = spawnSync(process.execPath, [...watched, program, kind, folder], {
        encoding: 'utf8',
        stdio: ['ignore', 'pipe', 'inherit'],
      });
      const { renders, wallMs } = JSON.parse(stdout);
      const ms = groupTimes(profiles, renders);
      const rounded = Object.entries(ms).map(([name, value]) => [name, Math.round(value)]);
      console.log(
        JSON.stringify({ case: 'costs', kind, wallMs: Math.round(wallMs), ms: Object.fromEntries(rounded) }),
      );
      return { kind, ms, wallMs };
    });
    writeFileSync(join(root, 'docs', file), chart(title, rows));
  }
}
