import type { RequestHandler } from 'express';
import { HttpProblem } from './problem.ts';

const loopback = new Set(['localhost', '127.0.0.1', '[::1]']);

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
 * @param extraHosts host names it was told to answer to besides loopback
 */
export function sameSiteOnly(extraHosts: readonly string[] = []): RequestHandler {
  const allowed = new Set([...loopback, ...extraHosts]);
  return (req, _res, next) => {
    const host = hostName(req.headers.host);
    if (host === null || !allowed.has(host)) {
      throw new HttpProblem(403, 'This host name is not served', { detail: 'Open the address that was printed at the start.' });
    }
    const origin = req.headers.origin;
    if (origin !== undefined && origin !== `http://${req.headers.host}` && origin !== `https://${req.headers.host}`) {
      throw new HttpProblem(403, 'Requests from other sites are refused');
    }
    next();
  };
}
