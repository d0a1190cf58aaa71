import { type ChildProcess, spawn } from 'node:child_process';
import { createServer } from 'node:http';
import { fileURLToPath } from 'node:url';
import { afterEach, describe, expect, it } from 'vitest';

const script = fileURLToPath(new URL('../dist/serve.mjs', import.meta.url));
const PORT = 4798;
const started: ChildProcess[] = [];

/** Starts the server; gives what it prints first, and how it ends if it does. */
function serve(): { said: Promise<string>; ended: Promise<number | null> } {
  const child = spawn(process.execPath, [script], { env: { ...process.env, PORT: String(PORT) } });
  started.push(child);
  const said = new Promise<string>((resolve) => {
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (data) => resolve(String(data)));
  });
  return { said, ended: new Promise((resolve) => child.once('exit', resolve)) };
}

describe('the server', () => {
  afterEach(async () => {
    for (const child of started.splice(0)) {
      const gone = new Promise((resolve) => child.once('exit', resolve));
      if (child.exitCode === null && child.kill()) await gone;
    }
  });

  it('closes the page in, and lets only the codecs make functions from text', async () => {
    expect(await serve().said).toContain(`ready: http://localhost:${PORT}/`);
    const headers = async (path: string) => (await fetch(`http://localhost:${PORT}${path}`)).headers;
    const page = await (await fetch(`http://localhost:${PORT}/`)).text();
    const { kernels, codecs } = JSON.parse(
      page.match(/<meta name="built-files" content="([^"]+)"/)![1]!.replaceAll('&quot;', '"'),
    ) as { kernels: string; codecs: string };
    const library = `/${codecs}/vips.wasm`;
    for (const path of ['/', `/${kernels}`, '/nothing-here', library, '/codecs/nothing']) {
      const one = await headers(path);
      expect(one.get('cross-origin-embedder-policy')).toBe('require-corp');
      expect(one.get('cross-origin-opener-policy')).toBe('same-origin');
      expect(one.get('content-security-policy')).toContain("default-src 'none'");
      expect(/[^-]unsafe-eval/.test(one.get('content-security-policy')!)).toBe(path.startsWith('/codecs/'));
    }
    for (const path of [`/${kernels}`, library]) {
      const named = await headers(path);
      expect(named.get('content-type')).toBe('application/wasm');
      // The name says what is in it: it never changes.
      expect(named.get('cache-control')).toContain('immutable');
    }
  });

  it('that runs already is pointed to, and no other address is taken', async () => {
    await serve().said;
    const second = serve();
    expect(await second.said).toContain(`running already: http://localhost:${PORT}/`);
    expect(await second.ended).toBe(0);
  });

  it('whose port another program has says so', async () => {
    const other = createServer((_, response) => response.end('something else'));
    await new Promise<void>((resolve) => other.listen(PORT, '127.0.0.1', resolve));
    const one = serve();
    expect(await one.said).toMatch(new RegExp(`Port ${PORT} is unavailable`));
    expect(await one.ended).toBe(1);
    other.close();
  });
});
