/** Serves the built application, the demo's files and the headers that shared memory and safety need. Nothing else. */
import { readFileSync, realpathSync, statSync } from 'node:fs';
import { randomBytes } from 'node:crypto';
import { join, sep } from 'node:path';
import express from 'express';
import type { Express } from 'express';

/** Everything comes from here; styles need a nonce, since styled-components writes them at run time. */
export const policyOf = (nonce: string): string =>
  [
    "default-src 'none'",
    "script-src 'self' 'wasm-unsafe-eval'",
    `style-src 'self' 'nonce-${nonce}'`,
    "style-src-attr 'none'",
    "img-src 'self' blob: data:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self'",
    "manifest-src 'self'",
    "base-uri 'none'",
    "form-action 'none'",
    "frame-ancestors 'none'",
  ].join('; ');

/** Names that a browser on this machine may call the server by: a page elsewhere must not reach it under its own. */
const OWN_HOSTS = ['localhost', '127.0.0.1', '[::1]'];
const hostName = (host: string): string => host.toLowerCase().replace(/:\d+$/, '').replace(/\.$/, '');

/** A file below a folder, symbolic links followed, as its real path; null where it lies outside or is not there. */
function within(folder: string, path: string): string | null {
  try {
    const base = realpathSync(folder);
    const file = realpathSync(join(base, path));
    return file.startsWith(base + sep) && statSync(file).isFile() ? file : null;
  } catch {
    return null;
  }
}

/** @param hosts more names that it answers to (HOST, and those of HOSTS with commas between) */
export function createApp(root: string, hosts: readonly string[] = []): Express {
  const allowed = new Set([...OWN_HOSTS, ...hosts.map(hostName)]);
  const app = express();
  app.disable('x-powered-by');
  app.set('etag', 'strong');
  app.use((req, res, next) => {
    const nonce = randomBytes(16).toString('base64');
    res.locals['nonce'] = nonce;
    res.set({
      'Cross-Origin-Opener-Policy': 'same-origin',
      'Cross-Origin-Embedder-Policy': 'require-corp',
      'Cross-Origin-Resource-Policy': 'same-origin',
      'Content-Security-Policy': policyOf(nonce),
      'X-Content-Type-Options': 'nosniff',
      'Referrer-Policy': 'no-referrer',
      'Permissions-Policy': 'camera=(), microphone=(), geolocation=()',
    });
    if (!allowed.has(hostName(req.headers.host ?? ''))) {
      res
        .status(421)
        .type('text')
        .send('This name is not one that the server answers to. Start it with HOSTS=name to allow it.\n');
      return;
    }
    if (req.method !== 'GET' && req.method !== 'HEAD') {
      res.status(405).set('Allow', 'GET, HEAD').type('text').send('Only GET and HEAD are answered here.\n');
      return;
    }
    next();
  });
  const still = { dotfiles: 'deny', index: false, redirect: false, fallthrough: true } as const;
  app.use('/assets', express.static(join(root, 'dist/assets'), { ...still, immutable: true, maxAge: '1y' }));
  // A link in the folder must not lead out of it.
  app.get('/demo/:file', (req, res, next) => {
    const name = req.params.file;
    const file = name.startsWith('.') ? null : within(join(root, 'demo/stills'), name);
    if (!file) return next();
    res.sendFile(file, { dotfiles: 'deny', maxAge: 0 });
  });
  const page = join(root, 'dist/index.html');
  app.get(['/', '/shots', '/bench', '/bench/:shot', '/hand-off', '/hand-off/:shot'], (_req, res) => {
    res
      .set('Cache-Control', 'no-store')
      .type('html')
      .send(readFileSync(page, 'utf8').replaceAll('__NONCE__', String(res.locals['nonce'])));
  });
  app.get('/favicon.svg', (_req, res) => void res.sendFile(join(root, 'dist/favicon.svg')));
  app.use((_req, res) => {
    res.status(404).type('text').send('There is nothing here. The application starts at /\n');
  });
  app.use((err: { status?: number }, _req: express.Request, res: express.Response, next: express.NextFunction) => {
    if (res.headersSent) return next(err);
    const status = err.status && err.status >= 400 && err.status < 500 ? err.status : 500;
    if (status === 500) console.error(err);
    res
      .status(status)
      .type('text')
      .send(status === 500 ? 'The server failed; its terminal says why.\n' : 'This cannot be served.\n');
  });
  return app;
}
