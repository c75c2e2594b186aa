/** The server: headers, what it serves and what it does not. */
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
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
const get = (
  path: string,
  method = 'GET',
  name = 'localhost',
): Promise<{ status: number; headers: IncomingHttpHeaders; body: string }> =>
  new Promise((done, fail) => {
    const r = request(
      { port: (server.address() as AddressInfo).port, path, method, host: '127.0.0.1', headers: { host: name } },
      (res) => {
        let body = '';
        res.on('data', (d: Buffer) => (body += d.toString()));
        res.on('end', () => done({ status: res.statusCode!, headers: res.headers, body }));
      },
    );
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
  server = createApp(root, ['Bench.example:80']).listen(0, '127.0.0.1');
  await new Promise((r) => server.once('listening', r));
});
afterAll(async () => {
  await new Promise((r) => server.close(r));
  rmSync(root, { recursive: true });
});

describe('server', () => {
  it.each(['/', '/shots', '/bench', '/bench/shot:x', '/hand-off'])(
    'serves the page at %s with isolation and a fresh nonce',
    async (path) => {
      const a = await get(path);
      const b = await get(path);
      expect(a.status).toBe(200);
      expect(a.headers).toMatchObject({
        'cross-origin-opener-policy': 'same-origin',
        'cross-origin-embedder-policy': 'require-corp',
        'x-content-type-options': 'nosniff',
      });
      const nonce = /nonce="([^"]+)"/.exec(a.body)![1]!;
      const policy = String(a.headers['content-security-policy']);
      expect(policy).toContain(`'nonce-${nonce}'`);
      expect(policy).toContain("default-src 'none'");
      expect(policy).not.toMatch(/unsafe-inline|unsafe-eval'(?<!wasm-unsafe-eval')/);
      expect(b.body).not.toBe(a.body);
      expect(a.headers['x-powered-by']).toBeUndefined();
    },
  );
  it('serves assets and demo files, for good and with their type', async () => {
    const js = await get('/assets/a-1.js');
    expect([js.status, js.headers['content-type']]).toEqual([200, 'text/javascript; charset=utf-8']);
    expect(js.headers['cache-control']).toContain('immutable');
    expect((await get('/demo/a.png')).status).toBe(200);
  });
  it.each([
    '/secret.txt',
    '/dist/secret.txt',
    '/assets/../secret.txt',
    '/assets/%2e%2e/secret.txt',
    '/assets/..%2fsecret.txt',
    '/demo/..%2f..%2fsecret.txt',
    '/demo/%2e%2e/%2e%2e/secret.txt',
    '/demo/.hidden',
    '/demo/',
    '/assets',
    '/demo/%00',
    '/%',
    '//etc/passwd',
    '/bench/a/b',
  ])('does not serve %s', async (path) => {
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
  it('answers to its own names alone: a page of elsewhere that leads its name here gets nothing', async () => {
    for (const [host, status] of [
      ['localhost:5175', 200],
      ['127.0.0.1', 200],
      ['LOCALHOST', 200],
      ['[::1]:5175', 200],
      ['bench.example', 200],
      ['evil.example', 421],
      ['localhost.evil.example', 421],
      ['127.0.0.1.nip.example:5175', 421],
    ] as const) {
      const r = await get('/', 'GET', host);
      expect(r.status, host).toBe(status);
      expect(r.headers['content-security-policy'], host).toContain("default-src 'none'");
      if (status === 421) expect(r.body).toMatch(/HOSTS=/);
    }
  });
  it('follows no link out of the demo folder', async () => {
    symlinkSync(join(root, 'secret.txt'), join(root, 'demo/stills/link.png'));
    symlinkSync(root, join(root, 'demo/stills/up'));
    symlinkSync(join(root, 'demo/stills/a.png'), join(root, 'demo/stills/own.png'));
    expect((await get('/demo/link.png')).status).toBe(404);
    expect((await get('/demo/up/secret.txt')).status).toBe(404);
    expect((await get('/demo/own.png')).body).toBe('png');
  });
  it('every answer has the headers: the page, files, faults of any kind', async () => {
    for (const path of ['/', '/demo/a.png', '/assets/a-1.js', '/nothing', '/%', '/demo/%00', '/favicon.svg'])
      expect((await get(path)).headers, path).toMatchObject({
        'x-content-type-options': 'nosniff',
        'cross-origin-resource-policy': 'same-origin',
        'referrer-policy': 'no-referrer',
      });
    expect((await get('/', 'POST')).headers['x-content-type-options']).toBe('nosniff');
  });
  it('the test stands on real files', () => expect(existsSync(join(root, 'secret.txt'))).toBe(true));
});

describe('the process', () => {
  const entry = join(import.meta.dirname, '../src/server/index.ts');
  const start = (env: Record<string, string>) =>
    spawn(process.execPath, [join(import.meta.dirname, '../node_modules/tsx/dist/cli.mjs'), entry], {
      env: { ...process.env, ...env },
    });
  /** What it said has arrived as well: `exit` may come before the last words are read. */
  const ended = (p: ReturnType<typeof start>): Promise<number | null> => new Promise((done) => p.on('close', done));
  it('says where it listens, only on this machine, and ends cleanly with a connection still open', async () => {
    const q = start({ PORT: '0' });
    const line = await new Promise<string>((done) => q.stdout.on('data', (d: Buffer) => done(String(d))));
    const port = Number(/localhost:(\d+)/.exec(line)![1]);
    const open = request({
      port,
      host: '127.0.0.1',
      path: '/nothing',
      agent: false,
      headers: { connection: 'keep-alive' },
    });
    await new Promise((done) => {
      open.on('response', (r) => r.resume().on('end', done));
      open.end();
    });
    const over = ended(q);
    q.kill('SIGTERM');
    expect(await over).toBe(0);
  });
  it('ends within two seconds under a download that crawls, and gives garbage an answer with headers', async () => {
    const q = start({ PORT: '0' });
    const line = await new Promise<string>((done) => q.stdout.on('data', (d: Buffer) => done(String(d))));
    const port = Number(/localhost:(\d+)/.exec(line)![1]);
    const garbage = await new Promise<string>((done) => {
      const s = connect(port, '127.0.0.1', () => s.write('this is no request\r\n\r\n'));
      let text = '';
      s.on('data', (d: Buffer) => (text += d.toString())).on('close', () => done(text));
    });
    expect(garbage).toMatch(/^HTTP\/1\.1 400/);
    expect(garbage).toMatch(/X-Content-Type-Options: nosniff/);
    // Asks for a picture and reads nothing of it.
    const slow = connect(port, '127.0.0.1', () => {
      slow.pause();
      slow.write('GET /demo/oven-mouth.png HTTP/1.1\r\nHost: localhost\r\n\r\n');
    });
    slow.on('error', () => {});
    await new Promise((r) => setTimeout(r, 300));
    const over = ended(q);
    const at = Date.now();
    q.kill('SIGTERM');
    expect(await over).toBe(0);
    expect(Date.now() - at).toBeLessThan(5000);
    slow.destroy();
  });
  it('refuses a wrong or taken port in plain words', async () => {
    for (const [port, why] of [
      ['http', /whole number/],
      ['', /whole number.*not ""/],
      ['-1', /whole number/],
      ['5e3', /whole number/],
      [String((server.address() as AddressInfo).port), /is taken.*PORT=/],
    ] as const) {
      const p = start({ PORT: port });
      let text = '';
      p.stderr.on('data', (d: Buffer) => (text += d.toString()));
      expect(await ended(p)).not.toBe(0);
      expect(text).toMatch(why);
    }
  });
});
