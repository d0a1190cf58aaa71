import { type ChildProcess, spawn } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('../..', import.meta.url));

/** A server of its own, on a copy of the built application that can be changed. */
export class OwnServer {
  private readonly folder = mkdtempSync(join(tmpdir(), 'hazy-lens-server-'));
  private child: ChildProcess | null = null;
  readonly address: string;
  private readonly built = join(this.folder, 'web/dist/browser');

  constructor(private readonly port: number) {
    this.address = `http://localhost:${port}/`;
    for (const part of ['web/dist/browser', 'server/dist'])
      cpSync(join(root, part), join(this.folder, part), { recursive: true });
    symlinkSync(join(root, 'node_modules'), join(this.folder, 'node_modules'));
  }

  /** Changes a file of the built application, as a newer one would. */
  change(file: string, from: string | RegExp, to: string): void {
    const path = join(this.built, file);
    writeFileSync(path, readFileSync(path, 'utf8').replace(from, to));
  }

  /** Has the list of files that tabs ask for say that there is another version. */
  offerVersion(revision: string): void {
    this.change('service-worker.js', /(url:"index\.html",revision:")[0-9a-f]{8}/, `$1${revision}`);
  }

  /** Starts it, anew where it runs. */
  async start(): Promise<void> {
    await this.stop();
    const script = join(this.folder, 'server/dist/serve.mjs');
    const child = spawn(process.execPath, [script], { env: { ...process.env, PORT: String(this.port) } });
    await new Promise((resolve, reject) => {
      child.stdout.once('data', resolve);
      child.once('exit', (code) =>
        reject(new Error(`The server ended at once, with ${code}: is its port free?`)),
      );
    });
    this.child = child;
  }

  async stop(): Promise<void> {
    const { child } = this;
    this.child = null;
    if (!child || child.exitCode !== null) return;
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill();
    await gone;
  }

  async remove(): Promise<void> {
    await this.stop();
    rmSync(this.folder, { recursive: true });
  }
}
