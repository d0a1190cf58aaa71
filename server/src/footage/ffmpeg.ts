// Debian's ffmpeg decodes and encodes clips, over pipes.
import { type ChildProcess, spawn } from 'node:child_process';
import { messageLine } from '@hazy-lens/core';
import { InputError } from '../render/picture';

/** Words of a program's last complaint that are passed on. */
const MAX_REASON = 160;

/** Starts `ffmpeg` or `ffprobe`. @param input whether its standard input is written to. */
export function start(program: 'ffmpeg' | 'ffprobe', args: readonly string[], input = false): Running {
  const child = spawn(program, ['-v', 'error', ...args], {
    stdio: [input ? 'pipe' : 'ignore', 'pipe', 'pipe'],
  });
  return new Running(child);
}

/**
 * Arguments that read a clip: of the kinds that are read only, and from its own file only. Others are lists of further
 * files, whatever they are called, and would have any file of this machine read.
 */
export const readsClip = (path: string): string[] => [
  ...['-format_whitelist', 'mov,matroska,webm,gif', '-protocol_whitelist', 'file', '-i', `file:${path}`],
];

/** A program under way. */
export class Running {
  private complaint = '';
  private missing = false;
  /** Ends when the program does: its exit code, null where it was ended. */
  readonly ended: Promise<number | null>;

  constructor(readonly child: ChildProcess) {
    child.stderr!.setEncoding('utf8').on('data', (text: string) => {
      this.complaint = (this.complaint + text).slice(-2000);
    });
    // Whoever writes to a program that has ended hears of it from `ended`.
    child.stdin?.on('error', () => undefined);
    this.ended = new Promise((resolve) => {
      child.on('error', (error: NodeJS.ErrnoException) => {
        this.missing = error.code === 'ENOENT';
        this.complaint = error.message;
        resolve(1);
      });
      child.on('close', resolve);
    });
  }

  /** @throws InputError with a sentence where the program failed. @param what names the file, and what was to be done with it. */
  async finish(what: string): Promise<void> {
    if ((await this.ended) !== 0) throw this.failure(what);
  }

  failure(what: string): InputError {
    if (this.missing)
      return new InputError(
        'Clips need ffmpeg, which isn’t installed: run "sudo apt-get install ffmpeg" and try again.',
      );
    const reason = this.complaint.trim().split('\n').at(-1) ?? '';
    const full = /No space left on device/.test(this.complaint);
    return new InputError(
      full
        ? `${what}: the disk is full. Make room and run it again: what is finished stays.`
        : `${what} (${messageLine(reason.slice(-MAX_REASON)) || 'ffmpeg stopped'}).`,
    );
  }

  /** All that it prints. @throws InputError where it fails, or prints more than `most` bytes. */
  async text(what: string, most = 200_000_000): Promise<string> {
    const chunks: Buffer[] = [];
    let bytes = 0;
    for await (const chunk of this.child.stdout! as AsyncIterable<Buffer>) {
      bytes += chunk.length;
      if (bytes > most) {
        this.stop();
        throw new InputError(`${what}: there is too much of it.`);
      }
      chunks.push(chunk);
    }
    await this.finish(what);
    return Buffer.concat(chunks).toString('utf8');
  }

  /** Writes to its standard input, as quickly as it takes that. */
  async write(bytes: Uint8Array): Promise<void> {
    const { stdin } = this.child;
    if (stdin!.destroyed || stdin!.write(bytes)) return;
    await Promise.race([new Promise((resolve) => stdin!.once('drain', resolve)), this.ended]);
  }

  stop(): void {
    this.child.kill('SIGKILL');
  }
}
