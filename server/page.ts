import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import express, { Router } from 'express';

/** Stands in the built page where the nonce of each answer goes. */
export const NONCE_MARK = '__CSP_NONCE__';

/** The built interface: files as they are, and the page for every other address. */
export function pageRoutes(folder: string): Router {
  const router = Router();
  router.use(
    express.static(folder, {
      index: false,
      setHeaders: (res, path) => {
        res.setHeader('Cache-Control', path.includes('/assets/') ? 'public, max-age=31536000, immutable' : 'no-cache');
      },
    }),
  );
  const page = readFileSync(join(folder, 'index.html'), 'utf8');
  router.get('/{*splat}', (_req, res) => {
    const nonce = randomBytes(16).toString('base64');
    res.setHeader(
      'Content-Security-Policy',
      [
        "default-src 'none'",
        "script-src 'self'",
        `style-src 'self' 'nonce-${nonce}'`,
        "style-src-attr 'unsafe-inline'",
        "img-src 'self' data: blob:",
        "font-src 'self'",
        "connect-src 'self'",
        "worker-src 'self'",
        "manifest-src 'self'",
        "form-action 'self'",
        "base-uri 'none'",
        "frame-ancestors 'none'",
        "object-src 'none'",
      ].join('; '),
    );
    res.setHeader('Cache-Control', 'no-store');
    res.type('html').send(page.replaceAll(NONCE_MARK, nonce));
  });
  return router;
}
