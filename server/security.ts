import type { RequestHandler } from 'express';
import { HttpProblem } from './problem.ts';

const loopback = new Set(['localhost', '127.0.0.1', '[::1]']);

/**
 * Host names to answer to besides loopback.
 * @param env `DRUCKWERK_HOSTS` (names with commas between them) or else the address it listens on (`HOST`)
 */
export function extraHosts(env: { HOST?: string | undefined; DRUCKWERK_HOSTS?: string | undefined }): string[] {
  return (env.DRUCKWERK_HOSTS ?? env.HOST ?? '')
    .split(',')
    .map((name) => name.trim().toLowerCase())
    .filter((name) => name !== '')
    .map((name) => (name.includes(':') && !name.startsWith('[') ? `[${name}]` : name));
}

/** Host name of a Host header, without the port; null when it is none. */
function hostName(host: string | undefined): string | null {
  try {
    return host ? new URL(`http://${host}`).hostname : null;
  } catch {
    return null;
  }
}

/**
 * Only pages served from here may drive the app: a Host that is not ours (a name that was rebound to loopback) and an Origin that is
 * not ours get 403. A request without Origin is a program and is served.
 * @param hosts names to answer to besides loopback
 * @param more further names, as they are now
 */
export function sameSiteOnly(hosts: readonly string[] = [], more: () => readonly string[] = () => []): RequestHandler {
  const allowed = new Set([...loopback, ...hosts]);
  return (req, _res, next) => {
    const host = hostName(req.headers.host);
    if (host === null || !(allowed.has(host) || more().includes(host))) {
      throw new HttpProblem(403, 'This host name is not served', { detail: 'Open the address that was printed at the start.' });
    }
    const origin = req.headers.origin?.toLowerCase();
    const own = req.headers.host?.toLowerCase();
    if (origin !== undefined && origin !== `http://${own}` && origin !== `https://${own}`) {
      throw new HttpProblem(403, 'Requests from other sites are refused');
    }
    // Pictures, scripts and forms of another page come without an Origin, but the browser says whose they are. A link is followed.
    const site = req.headers['sec-fetch-site'];
    const foreign = site === 'cross-site' || site === 'same-site';
    const link =
      req.method === 'GET' && req.headers['sec-fetch-mode'] === 'navigate' && req.headers['sec-fetch-dest'] === 'document';
    if (origin === undefined && foreign && (!link || req.path.startsWith('/api/'))) {
      throw new HttpProblem(403, 'Requests from other sites are refused');
    }
    next();
  };
}

/** A body of which nothing comes for this long is given up, ms. */
export const STALLED_MS = 30_000;

/** Ends requests whose body has stalled: each would keep a connection and its memory for good. */
export function stalledBodies(afterMs = STALLED_MS): RequestHandler {
  return (req, res, next) => {
    const { socket } = req;
    let seen = socket.bytesRead;
    let since = Date.now();
    const look = setInterval(
      () => {
        if (req.complete || res.writableEnded) return clearInterval(look);
        // Not the sender's fault while we are slow to read.
        if (socket.bytesRead !== seen || socket.isPaused()) {
          seen = socket.bytesRead;
          since = Date.now();
        } else if (Date.now() - since > afterMs) {
          clearInterval(look);
          const problem = new HttpProblem(408, 'Nothing more of the body has come', {
            detail: 'What had come whole by then is kept.',
          });
          if (!res.headersSent)
            res.status(408).set('Connection', 'close').type('application/problem+json').send(JSON.stringify(problem.body()));
          setTimeout(() => req.destroy(), 100).unref();
        }
      },
      Math.max(20, afterMs / 6),
    );
    look.unref();
    res.once('close', () => clearInterval(look));
    next();
  };
}
