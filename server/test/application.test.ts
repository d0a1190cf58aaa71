import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { type Server, request } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliCompressSync, gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createApplication } from '../src/application';

describe('the application as it is served', () => {
  const web = mkdtempSync(join(tmpdir(), 'hazy-lens-web-'));
  let server: Server;
  let address = '';

  beforeAll(async () => {
    writeFileSync(join(web, 'index.html'), '<hl-root ngCspNonce="%nonce%"></hl-root>');
    writeFileSync(join(web, 'main-ABCD1234.js'), 'export {};');
    writeFileSync(join(web, 'main-ABCD1234.js.br'), brotliCompressSync('export {};'));
    writeFileSync(join(web, 'main-ABCD1234.js.gz'), gzipSync('export {};'));
    writeFileSync(join(web, 'service-worker.js'), 'export {};');
    mkdirSync(join(web, 'codecs/ABCD1234'), { recursive: true });
    writeFileSync(join(web, 'codecs/ABCD1234/x.js'), 'export {};');
    server = createApplication(web).listen(0, '127.0.0.1');
    await new Promise((resolve) => server.once('listening', resolve));
    address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  });
  afterAll(() => {
    server.close();
    rmSync(web, { recursive: true });
  });

  const policyOf = (response: Response): string => response.headers.get('content-security-policy')!;

  it('gives each page a nonce of its own, and styles must bear it', async () => {
    const seen = new Set<string>();
    for (const path of ['/', '/index.html', '/']) {
      const response = await fetch(address + path);
      expect(response.headers.get('content-type')).toContain('text/html');
      expect(response.headers.get('cache-control')).toBe('no-cache');
      const nonce = /ngCspNonce="([^"]+)"/.exec(await response.text())![1]!;
      expect(policyOf(response)).toContain(`style-src 'self' 'nonce-${nonce}'`);
      seen.add(nonce);
    }
    expect(seen.size).toBe(3);
  });

  it('never allows anything inline', async () => {
    for (const path of ['/', '/main-ABCD1234.js', '/service-worker.js', '/codecs/x.js', '/nothing'])
      expect(policyOf(await fetch(address + path))).not.toContain('unsafe-inline');
  });

  it('lets what has its hash in its name be kept, and all else be asked for again', async () => {
    const kept = async (path: string) => (await fetch(address + path)).headers.get('cache-control');
    expect(await kept('/main-ABCD1234.js')).toContain('immutable');
    expect(await kept('/service-worker.js')).toBe('no-cache');
  });

  it('has the headers that shared memory and a closed page need', async () => {
    const { headers } = await fetch(`${address}/`);
    const wanted = {
      'cross-origin-opener-policy': 'same-origin',
      'cross-origin-embedder-policy': 'require-corp',
      'cross-origin-resource-policy': 'same-origin',
      'x-content-type-options': 'nosniff',
      'referrer-policy': 'no-referrer',
      'permissions-policy': expect.stringContaining('camera=()') as string,
    };
    for (const [name, value] of Object.entries(wanted)) expect(headers.get(name), name).toEqual(value);
    expect(headers.has('x-powered-by')).toBe(false);
  });

  /** As a program asks that writes its request itself. */
  const asked = (path: string, options: { method?: string; headers?: Record<string, string> }) =>
    new Promise<{ status: number; headers: Record<string, unknown>; bytes: Buffer }>((resolve, reject) => {
      const asking = request(address + path, options, (response) => {
        const parts: Buffer[] = [];
        response.on('data', (part: Buffer) => parts.push(part));
        response.on('end', () =>
          resolve({ status: response.statusCode!, headers: response.headers, bytes: Buffer.concat(parts) }),
        );
      });
      asking.on('error', reject).end();
    });

  it('answers to names of this machine alone', async () => {
    for (const host of ['localhost', 'localhost:4780', '127.0.0.1:1', '[::1]:4780'])
      expect((await asked('/', { headers: { host } })).status, host).toBe(200);
    for (const host of ['hazy.example', 'localhost.hazy.example', '127.0.0.1.hazy.example:80'])
      expect((await asked('/', { headers: { host } })).status, host).toBe(421);
  });

  it('allows reading only', async () => {
    for (const method of ['POST', 'PUT', 'DELETE', 'OPTIONS'])
      expect(await asked('/', { method }), method).toMatchObject({
        status: 405,
        headers: { allow: 'GET, HEAD' },
      });
    expect((await asked('/', { method: 'HEAD' })).status).toBe(200);
  });

  it('lets only what lies among the codecs make functions from text, however it is asked for', async () => {
    const path = (await asked('/codecs/ABCD1234/x.js', {})).headers['content-security-policy'];
    expect(path).toContain("'unsafe-eval'");
    for (const other of [
      '/',
      '/codecs/../index.html',
      '/codecs/%2e%2e/index.html',
      '/codecs/%2E./main-ABCD1234.js',
      '/codecs%2f..%2findex.html',
      '/codecs/%',
    ]) {
      const { headers } = await asked(other, {});
      expect(headers['content-security-policy'], other).not.toContain("'unsafe-eval'");
    }
  });

  it('sends the compressed copies of the build to clients that accept them', async () => {
    for (const [encoding, want] of [
      ['br', 'br'],
      ['gzip', 'gzip'],
      ['gzip, deflate, br', 'br'],
      ['', undefined],
    ] as const) {
      const { headers, bytes } = await asked('/main-ABCD1234.js', {
        headers: { 'accept-encoding': encoding },
      });
      expect(headers['content-encoding']).toBe(want);
      expect(headers['content-type']).toContain('javascript');
      expect(headers['cache-control']).toContain('immutable');
      if (!want) expect(bytes.toString()).toBe('export {};');
    }
  });

  it('answers plainly what is not there, and nothing from outside its folder', async () => {
    for (const path of ['/nothing', '/../package.json', '/%2e%2e/package.json']) {
      const response = await fetch(address + path);
      expect(response.status).toBe(404);
      expect(await response.text()).toBe('There is nothing here.');
    }
  });
});
