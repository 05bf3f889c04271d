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
 */
export function sameSiteOnly(hosts: readonly string[] = []): RequestHandler {
  const allowed = new Set([...loopback, ...hosts]);
  return (req, _res, next) => {
    const host = hostName(req.headers.host);
    if (host === null || !allowed.has(host)) {
      throw new HttpProblem(403, 'This host name is not served', { detail: 'Open the address that was printed at the start.' });
    }
    const origin = req.headers.origin?.toLowerCase();
    const own = req.headers.host?.toLowerCase();
    if (origin !== undefined && origin !== `http://${own}` && origin !== `https://${own}`) {
      throw new HttpProblem(403, 'Requests from other sites are refused');
    }
    next();
  };
}
