/** Serves the built application, the demo's files and the headers that shared memory and safety need. Nothing else. */
import { readFileSync } from 'node:fs';
import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import express from 'express';
import type { Express } from 'express';

/** Everything comes from here; styles need a nonce, since styled-components writes them at run time. */
export const policyOf = (nonce: string): string =>
  [
    "default-src 'none'", "script-src 'self' 'wasm-unsafe-eval'", `style-src 'self' 'nonce-${nonce}'`, "style-src-attr 'none'", "img-src 'self' blob: data:", "font-src 'self'", "connect-src 'self'",
    "worker-src 'self'", "manifest-src 'self'", "base-uri 'none'", "form-action 'none'", "frame-ancestors 'none'",
  ].join('; ');

export function createApp(root: string): Express {
  const app = express();
  app.disable('x-powered-by');
  app.set('etag', 'strong');
  app.use((req, res, next) => {
    const nonce = randomBytes(16).toString('base64');
    res.locals['nonce'] = nonce;
    res.set({
      'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp', 'Cross-Origin-Resource-Policy': 'same-origin',
      'Content-Security-Policy': policyOf(nonce), 'X-Content-Type-Options': 'nosniff', 'Referrer-Policy': 'no-referrer', 'Permissions-Policy': 'camera=(), microphone=(), geolocation=()',
    });
    if (req.method !== 'GET' && req.method !== 'HEAD') {
      res.status(405).set('Allow', 'GET, HEAD').type('text').send('Only GET and HEAD are answered here.\n');
      return;
    }
    next();
  });
  const still = { dotfiles: 'deny', index: false, redirect: false, fallthrough: true } as const;
  app.use('/assets', express.static(join(root, 'dist/assets'), { ...still, immutable: true, maxAge: '1y' }));
  app.use('/demo', express.static(join(root, 'demo/stills'), { ...still, extensions: [] }));
  const page = join(root, 'dist/index.html');
  app.get(['/', '/shots', '/bench', '/bench/:shot', '/hand-off', '/hand-off/:shot'], (_req, res) => {
    res.set('Cache-Control', 'no-store').type('html').send(readFileSync(page, 'utf8').replaceAll('__NONCE__', String(res.locals['nonce'])));
  });
  app.get('/favicon.svg', (_req, res) => void res.sendFile(join(root, 'dist/favicon.svg')));
  app.use((_req, res) => {
    res.status(404).type('text').send('There is nothing here. The application starts at /\n');
  });
  app.use((err: { status?: number }, _req: express.Request, res: express.Response, next: express.NextFunction) => {
    if (res.headersSent) return next(err);
    const status = err.status && err.status >= 400 && err.status < 500 ? err.status : 500;
    if (status === 500) console.error(err);
    res.status(status).type('text').send(status === 500 ? 'The server failed; its terminal says why.\n' : 'This cannot be served.\n');
  });
  return app;
}
