/** The server: headers, what it serves and what it does not. */
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { request } from 'node:http';
import type { IncomingHttpHeaders, Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createApp } from '../src/server/app';

const root = mkdtempSync(join(tmpdir(), 'rowanleaf-server-'));
let server: Server;
/** Plain http, since fetch would tidy the path before it is sent. */
const get = (path: string, method = 'GET'): Promise<{ status: number; headers: IncomingHttpHeaders; body: string }> =>
  new Promise((done, fail) => {
    const r = request({ port: (server.address() as AddressInfo).port, path, method, host: '127.0.0.1' }, (res) => {
      let body = '';
      res.on('data', (d: Buffer) => (body += d.toString()));
      res.on('end', () => done({ status: res.statusCode!, headers: res.headers, body }));
    });
    r.on('error', fail);
    r.end();
  });

beforeAll(async () => {
  for (const d of ['dist/assets', 'demo/stills']) mkdirSync(join(root, d), { recursive: true });
  writeFileSync(join(root, 'dist/index.html'), '<meta property="csp-nonce" nonce="__NONCE__">');
  writeFileSync(join(root, 'dist/assets/a-1.js'), 'export {}');
  writeFileSync(join(root, 'dist/secret.txt'), 'secret');
  writeFileSync(join(root, 'demo/stills/a.png'), 'png');
  writeFileSync(join(root, 'demo/stills/.hidden'), 'secret');
  writeFileSync(join(root, 'secret.txt'), 'secret');
  server = createApp(root).listen(0, '127.0.0.1');
  await new Promise((r) => server.once('listening', r));
});
afterAll(async () => {
  await new Promise((r) => server.close(r));
  rmSync(root, { recursive: true });
});

describe('server', () => {
  it.each(['/', '/shots', '/bench', '/bench/shot:x', '/hand-off'])('serves the page at %s with isolation and a fresh nonce', async (path) => {
    const a = await get(path);
    const b = await get(path);
    expect(a.status).toBe(200);
    expect(a.headers).toMatchObject({ 'cross-origin-opener-policy': 'same-origin', 'cross-origin-embedder-policy': 'require-corp', 'x-content-type-options': 'nosniff' });
    const nonce = /nonce="([^"]+)"/.exec(a.body)![1]!;
    const policy = String(a.headers['content-security-policy']);
    expect(policy).toContain(`'nonce-${nonce}'`);
    expect(policy).toContain("default-src 'none'");
    expect(policy).not.toMatch(/unsafe-inline|unsafe-eval'(?<!wasm-unsafe-eval')/);
    expect(b.body).not.toBe(a.body);
    expect(a.headers['x-powered-by']).toBeUndefined();
  });
  it('serves assets and demo files, for good and with their type', async () => {
    const js = await get('/assets/a-1.js');
    expect([js.status, js.headers['content-type']]).toEqual([200, 'text/javascript; charset=utf-8']);
    expect(js.headers['cache-control']).toContain('immutable');
    expect((await get('/demo/a.png')).status).toBe(200);
  });
  it.each(['/secret.txt', '/dist/secret.txt', '/assets/../secret.txt', '/assets/%2e%2e/secret.txt', '/assets/..%2fsecret.txt', '/demo/..%2f..%2fsecret.txt', '/demo/%2e%2e/%2e%2e/secret.txt', '/demo/.hidden', '/demo/', '/assets', '/demo/%00', '/%', '//etc/passwd', '/bench/a/b'])('does not serve %s', async (path) => {
    const r = await get(path);
    expect(r.status).toBeGreaterThanOrEqual(400);
    expect(r.status).toBeLessThan(500);
    expect(r.body).not.toContain('secret\n');
    expect(r.body).not.toBe('secret');
  });
  it.each(['POST', 'PUT', 'DELETE', 'PATCH'])('answers no %s', async (method) => {
    const r = await get('/', method);
    expect([r.status, r.headers['allow']]).toEqual([405, 'GET, HEAD']);
  });
  it('the test stands on real files', () => expect(existsSync(join(root, 'secret.txt'))).toBe(true));
});

describe('the process', () => {
  const entry = join(import.meta.dirname, '../src/server/index.ts');
  const start = (env: Record<string, string>) => spawn(process.execPath, [join(import.meta.dirname, '../node_modules/tsx/dist/cli.mjs'), entry], { env: { ...process.env, ...env } });
  const ended = (p: ReturnType<typeof start>): Promise<number | null> => new Promise((done) => p.on('exit', done));
  it('says where it listens, only on this machine, and ends cleanly with a connection still open', async () => {
    const q = start({ PORT: '0' });
    const line = await new Promise<string>((done) => q.stdout.on('data', (d: Buffer) => done(String(d))));
    const port = Number(/localhost:(\d+)/.exec(line)![1]);
    const open = request({ port, host: '127.0.0.1', path: '/nothing', agent: false, headers: { connection: 'keep-alive' } });
    await new Promise((done) => {
      open.on('response', (r) => r.resume().on('end', done));
      open.end();
    });
    const over = ended(q);
    q.kill('SIGTERM');
    expect(await over).toBe(0);
  });
  it('refuses a wrong or taken port in plain words', async () => {
    for (const [port, why] of [['http', /whole number/], [String((server.address() as AddressInfo).port), /is taken.*PORT=/]] as const) {
      const p = start({ PORT: port });
      let text = '';
      p.stderr.on('data', (d: Buffer) => (text += d.toString()));
      expect(await ended(p)).not.toBe(0);
      expect(text).toMatch(why);
    }
  });
});
