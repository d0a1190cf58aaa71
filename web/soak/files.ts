// Spoilt files through the application's decoders, and some of them through the command line.
import { type ChildProcess, fork, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { mutated, randomFrom } from './mutate';
import { seeds } from './seeds';

/** How long a file may take. */
const PATIENCE_MS = 5000;
/** A reader is replaced after so many files: what they left behind must not tell on others. */
const RENEWED = 100;
/** Every so many files one goes through the command line too, which starts anew for each. */
const BY_COMMAND_LINE = 20;
const root = fileURLToPath(new URL('../..', import.meta.url));

/** A process that reads files; one that does not answer is ended and replaced. */
class Reader {
  private process: ChildProcess | null = null;
  private reads = 0;

  constructor(private readonly patienceMs: number) {}

  private async started(): Promise<ChildProcess> {
    if (this.process) return this.process;
    const script = fileURLToPath(new URL('./soak-decode.mjs', import.meta.url));
    const child = fork(script, { serialization: 'advanced', stdio: ['ignore', 'ignore', 'ignore', 'ipc'] });
    await new Promise((resolve, reject) => child.once('message', resolve).once('exit', reject));
    child.removeAllListeners();
    return (this.process = child);
  }

  async read(name: string, bytes: Uint8Array): Promise<string> {
    if (this.reads++ % RENEWED === 0) this.close();
    const child = await this.started();
    let timer: NodeJS.Timeout | undefined;
    const answer = await new Promise<string>((resolve) => {
      timer = setTimeout(() => resolve('no answer'), this.patienceMs);
      child.once('message', (text) => resolve(String(text)));
      child.once('exit', (code, signal) => resolve(`the reader stopped: ${code ?? signal}`));
      child.send({ name, bytes });
    });
    clearTimeout(timer);
    child.removeAllListeners();
    if (/^(no answer|the reader stopped)/.test(answer)) this.close();
    return answer;
  }

  close(): void {
    this.process?.kill('SIGKILL');
    this.process = null;
  }
}

function byCommandLine(folder: string, name: string, bytes: Uint8Array, patienceMs: number): string {
  const isRecipe = name.endsWith('.json');
  const file = join(folder, name);
  const plain = join(folder, 'plain.json');
  writeFileSync(file, bytes);
  writeFileSync(plain, '{"format":"hazy-lens-recipe","version":1,"blur":{"radius":0.01}}');
  const input = isRecipe ? join(root, 'docs/screenshots/shelf.png') : file;
  const args = ['--recipe', isRecipe ? file : plain, '--in', input, '--out', join(folder, 'out.png')];
  const { status, stderr } = spawnSync(
    process.execPath,
    [join(root, 'server/dist/render.mjs'), ...args, '--workers', '1'],
    { encoding: 'utf8', timeout: patienceMs },
  );
  if (status === 0) return 'read';
  const lines = stderr.trim().split('\n');
  return status === 2 && lines.length === 1 && lines[0]!.includes(name)
    ? lines[0]!
    : `unexpected: ${status} ${stderr}`;
}

/** @returns how many files did not end in a picture or one sentence in time. */
export async function soak(rounds: number, patienceMs = PATIENCE_MS): Promise<number> {
  const started = performance.now();
  const folder = mkdtempSync(join(tmpdir(), 'hazy-lens-soak-'));
  const all = await seeds(root);
  const others = all.map(([, file]) => file);
  const reader = new Reader(patienceMs);
  const count = { read: 0, sentences: 0, failed: 0, byCommandLine: 0 };
  let slowest = 0;
  const judge = (i: number, name: string, answer: string): void => {
    if (answer === 'read') count.read++;
    else if (/^(unexpected|no answer|the reader)/.test(answer)) {
      count.failed++;
      process.stderr.write(`${i} ${name}: ${answer}\n`);
    } else count.sentences++;
  };
  for (let i = 0; i < rounds; i++) {
    const random = randomFrom(i);
    const [name, file] = all[i % all.length]!;
    const bytes = mutated(file, others, random);
    const before = performance.now();
    judge(i, name, await reader.read(name, bytes));
    slowest = Math.max(slowest, performance.now() - before);
    if (i % BY_COMMAND_LINE === 0 && !/\.(zip|heic|gif)$/.test(name)) {
      count.byCommandLine++;
      judge(i, name, byCommandLine(folder, name, bytes, patienceMs));
    }
  }
  reader.close();
  rmSync(folder, { recursive: true });
  const seconds = Math.round((performance.now() - started) / 1000);
  console.log(
    JSON.stringify({ case: 'files', files: rounds, ...count, slowestMs: Math.round(slowest), seconds }),
  );
  return count.failed;
}
