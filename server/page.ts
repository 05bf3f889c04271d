import { createHash, randomBytes } from 'node:crypto';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type RequestHandler, Router } from 'express';
import expressStaticGzip from 'express-static-gzip';
import { notFound } from './problem.ts';

/** The built page has these where the nonce of each answer and the name of the build go. */
export const NONCE_MARK = '__CSP_NONCE__';
export const BUILD_MARK = '__BUILD__';
/** And this where the rig of the page goes, with the last event of it that was before the page. */
export const LIVE_MARK = '__LIVE_AFTER__';
/** Header of every answer under `/api` with the name of the build, so that a page of an older one notices. */
export const BUILD_HEADER = 'Druckwerk-Build';

/** Name of the build in a folder: it changes with anything the page is made of, because file names carry hashes. */
export const buildOf = (folder: string): string =>
  createHash('sha256')
    .update(readFileSync(join(folder, 'index.html')))
    .digest('hex')
    .slice(0, 12);

/**
 * The built interface: files as they are, and the page for every other address.
 * @param expected told of the rig a page is about, just before the page is sent: the last event of it, or null where there is no such rig
 */
export function pageRoutes(folder: string, expected: (rigId: string) => string | null = () => null): Router {
  const router = Router();
  const page = readFileSync(join(folder, 'index.html'), 'utf8').replaceAll(BUILD_MARK, buildOf(folder));
  const sendPage: RequestHandler = (req, res) => {
    const rigId = /^\/rigs\/([\w-]+)/.exec(req.path)?.[1];
    const last = rigId === undefined ? null : expected(rigId);
    const nonce = randomBytes(16).toString('base64');
    res.setHeader('Content-Security-Policy', contentPolicy(nonce));
    res.setHeader('Cache-Control', 'no-store');
    res.type('html').send(page.replaceAll(NONCE_MARK, nonce).replaceAll(LIVE_MARK, last === null ? '' : `${rigId} ${last}`));
  };
  // Not as a file: it would go out without its policy and with the raw mark.
  router.get('/index.html', sendPage);
  // What the page's worker keeps for when there is no connection.
  const assets = join(folder, 'assets');
  const files = (existsSync(assets) ? readdirSync(assets, { withFileTypes: true }) : []).flatMap((f) =>
    f.isFile() && !/\.(map|br)$/.test(f.name) ? [`/assets/${f.name}`] : [],
  );
  router.get('/shell.json', (_req, res) => {
    res.setHeader('Cache-Control', 'no-store');
    res.json({ build: buildOf(folder), files: [...files, '/icon.svg', '/manifest.webmanifest'] });
  });
  router.use(
    // The build packs each file once; packed with each request they cost a third of a page's load.
    expressStaticGzip(folder, {
      index: false,
      enableBrotli: true,
      orderPreference: ['br'],
      serveStatic: {
        index: false,
        setHeaders: (res, path) => {
          res.setHeader('Cache-Control', keptFor(path));
        },
      },
    }),
  );
  // A file that isn't there, or no longer: the page in its place would be taken for a script.
  router.get('/{*splat}', (req, _res, next) => {
    if (req.path.startsWith('/assets/') || /\.[a-z0-9]+$/i.test(req.path)) throw notFound('file');
    next();
  });
  router.get('/{*splat}', sendPage);
  return router;
}

/** How long a browser may keep a file. It asks for the icon at every step inside the page. */
function keptFor(path: string): string {
  if (path.includes('/assets/')) return 'public, max-age=31536000, immutable';
  return path.endsWith('/icon.svg') ? 'public, max-age=86400' : 'no-cache';
}

/** What the page may load, and from where. */
const contentPolicy = (nonce: string): string =>
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
  ].join('; ');
