import { type ChildProcess, spawn } from 'node:child_process';
import { mkdir } from 'node:fs/promises';
import { resolve } from 'node:path';
import { InputError } from '../render/picture';

/** A Redis of our own, which keeps what it is told on the disk as it is told. */
export interface OwnRedis {
  url: string;
  stop(): Promise<void>;
}

/**
 * Starts Debian's redis-server.
 * @param folder where it keeps its log of changes. @param host the address it listens at. @param key its password; null for none.
 * @throws InputError where it is missing or does not start.
 */
export async function startRedis(
  folder: string,
  port: number,
  host: string,
  key: string | null,
): Promise<OwnRedis> {
  await mkdir(folder, { recursive: true });
  // By standard input: other users see the arguments of a program.
  const child = spawn('redis-server', ['-'], { stdio: ['pipe', 'pipe', 'pipe'] });
  const settings = [
    `port ${port}`,
    `bind ${host === '127.0.0.1' ? host : `${host} 127.0.0.1`}`,
    `dir "${resolve(folder)}"`,
    'appendonly yes',
    'appendfsync everysec',
    'save ""',
    'maxmemory-policy noeviction',
    ...(key ? [`requirepass "${key.replace(/["\\]/g, '\\$&')}"`] : []),
  ];
  child.stdin.on('error', () => undefined);
  child.stdin.end(`${settings.join('\n')}\n`);
  await ready(child, port);
  const ended = new Promise<void>((done) => child.once('close', () => done()));
  return {
    url: `redis://127.0.0.1:${port}`,
    stop: async () => {
      child.kill('SIGTERM');
      await ended;
    },
  };
}

function ready(child: ChildProcess, port: number): Promise<void> {
  return new Promise((done, reject) => {
    let said = '';
    child.stdout!.setEncoding('utf8').on('data', (text: string) => {
      said = (said + text).slice(-2000);
      if (said.includes('Ready to accept connections')) done();
    });
    child.on('error', () =>
      reject(
        new InputError(
          'A farm needs Redis, which isn’t installed: run "sudo apt-get install redis-server" and try again, or give --redis.',
        ),
      ),
    );
    child.on('close', () => {
      const isTaken = /Address already in use|bind/i.test(said);
      reject(
        new InputError(
          isTaken
            ? `Port ${port} is taken. Close the program using it, or give --redis with the address of a running Redis.`
            : `Redis doesn’t start (${said.trim().split('\n').at(-1) ?? 'it says nothing'}).`,
        ),
      );
    });
  });
}
