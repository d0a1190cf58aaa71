import { once } from 'node:events';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { type IncomingHttpHeaders, type Server, createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createApplication } from '../src/application';
import { farmLinkFrom } from '../src/farm-link';

describe('a farm behind the application’s server', () => {
  const web = mkdtempSync(join(tmpdir(), 'hazy-lens-web-'));
  const asked: { method: string; url: string; headers: IncomingHttpHeaders; body: string }[] = [];
  const servers: Server[] = [];
  let refuses = false;
  const listening = async (server: Server): Promise<string> => {
    servers.push(server.listen(0, '127.0.0.1'));
    await once(server, 'listening');
    return `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  };
  let linked: string;
  let alone: string;
  let lost: string;

  beforeAll(async () => {
    writeFileSync(join(web, 'index.html'), '<hl-root></hl-root>');
    const farm = await listening(
      createServer(async (request, response) => {
        let body = '';
        for await (const chunk of request) body += String(chunk);
        asked.push({ method: request.method!, url: request.url!, headers: request.headers, body });
        response.statusCode = refuses ? 401 : 201;
        response.setHeader('content-type', 'application/json').end('{"hash":"abc"}');
      }),
    );
    const withFarm = (url: string) =>
      createServer(createApplication(web, { url: new URL(url), key: 'a secret key' }));
    linked = await listening(withFarm(farm));
    alone = await listening(createServer(createApplication(web)));
    lost = await listening(withFarm('http://127.0.0.1:1'));
  });
  afterAll(() => {
    for (const server of servers) {
      server.closeAllConnections();
      server.close();
    }
    rmSync(web, { recursive: true });
  });
  const own = { 'sec-fetch-site': 'same-origin' };

  it('is told of, without its key', async () => {
    expect(await (await fetch(`${alone}/farm/`)).json()).toEqual({ farm: null });
    const text = await (await fetch(`${linked}/farm/`)).text();
    expect(JSON.parse(text)).toEqual({
      farm: { host: expect.stringMatching(/^127\.0\.0\.1:\d+$/) as string },
    });
    expect(text).not.toContain('secret');
  });

  it('gets what a page sends, with the key', async () => {
    const sent = await fetch(`${linked}/farm/store`, { method: 'POST', body: 'a clip', headers: own });
    expect(sent.status).toBe(201);
    expect(await sent.json()).toEqual({ hash: 'abc' });
    expect(asked.at(-1)).toMatchObject({ method: 'POST', url: '/store', body: 'a clip' });
    expect(asked.at(-1)!.headers.authorization).toBe('Bearer a secret key');
    await fetch(`${linked}/farm/jobs/abc123`);
    expect(asked.at(-1)).toMatchObject({ method: 'GET', url: '/api/jobs/abc123' });
    await fetch(`${linked}/farm/jobs/abc123`, { method: 'DELETE', headers: own });
    expect(asked.at(-1)).toMatchObject({ method: 'DELETE', url: '/api/jobs/abc123' });
  });

  it('hears nothing of other sites, other paths and other methods', async () => {
    const before = asked.length;
    for (const site of ['cross-site', 'same-site', undefined]) {
      const headers: Record<string, string> = site ? { 'sec-fetch-site': site } : {};
      const answer = await fetch(`${linked}/farm/jobs`, { method: 'POST', body: '{}', headers });
      expect(answer.status).toBe(403);
    }
    expect((await fetch(`${linked}/farm/jobs/..%2f..%2fboard`)).status).toBe(404);
    expect((await fetch(`${linked}/farm/board`)).status).toBe(404);
    expect((await fetch(`${linked}/farm/store`, { method: 'PUT', headers: own })).status).toBe(405);
    expect((await fetch(`${alone}/farm/store`, { method: 'POST', headers: own })).status).toBe(405);
    expect(asked.length).toBe(before);
  });

  it('is missed with a sentence, and never asks a person for a key', async () => {
    const gone = await fetch(`${lost}/farm/store`, { method: 'POST', body: 'x', headers: own });
    expect(gone.status).toBe(502);
    expect(await gone.text()).toContain('The farm doesn’t answer');
    refuses = true;
    const refused = await fetch(`${linked}/farm/store`, { method: 'POST', body: 'x', headers: own });
    refuses = false;
    expect(refused.status).toBe(502);
    expect(refused.headers.has('www-authenticate')).toBe(false);
    expect(await refused.text()).toContain('doesn’t take this server’s key');
  });

  it('is named by the environment, as an address', () => {
    expect(farmLinkFrom({})).toBe(null);
    expect(farmLinkFrom({ HAZY_LENS_FARM: 'http://farm:4790' })).toMatchObject({ key: null });
    for (const text of ['farm', 'file:///etc/passwd', 'http://'])
      expect(() => farmLinkFrom({ HAZY_LENS_FARM: text })).toThrow('must be like');
  });
});
