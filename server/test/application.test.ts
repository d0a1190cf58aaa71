import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { application } from '../src/application';

describe('the application as it is served', () => {
  const web = mkdtempSync(join(tmpdir(), 'hazy-lens-web-'));
  let server: Server;
  let address = '';

  beforeAll(async () => {
    writeFileSync(join(web, 'index.html'), '<hl-root ngCspNonce="%nonce%"></hl-root>');
    writeFileSync(join(web, 'main-ABCD1234.js'), 'export {};');
    writeFileSync(join(web, 'service-worker.js'), 'export {};');
    server = application(web).listen(0, '127.0.0.1');
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
    };
    for (const [name, value] of Object.entries(wanted)) expect(headers.get(name), name).toBe(value);
    expect(headers.has('x-powered-by')).toBe(false);
  });

  it('answers plainly what is not there, and nothing from outside its folder', async () => {
    for (const path of ['/nothing', '/../package.json', '/%2e%2e/package.json']) {
      const response = await fetch(address + path);
      expect(response.status).toBe(404);
      expect(await response.text()).toBe('There is nothing here.');
    }
  });
});
