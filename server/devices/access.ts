import type { IncomingMessage } from 'node:http';
import type { TLSSocket } from 'node:tls';
import type { Request, RequestHandler } from 'express';
import type { Device, Role } from '#schema/devices.ts';
import type { RouteName } from '#schema/routes.ts';
import { HttpProblem } from '../problem.ts';
import { asking } from '../records/versions.ts';
import type { Devices } from './devices.ts';

export const COOKIE = 'druckwerk';

/** Whether a request comes from this machine. */
export const isLoopback = (req: IncomingMessage): boolean => {
  const from = req.socket.remoteAddress ?? '';
  return from === '::1' || from.startsWith('127.') || from.startsWith('::ffff:127.');
};

export const isEncrypted = (req: Request): boolean => (req.socket as TLSSocket).encrypted === true;

const devicesOf = new WeakMap<IncomingMessage, Device>();
/** The device that asks; undefined: this machine itself. */
export const deviceOf = (req: IncomingMessage): Device | undefined => devicesOf.get(req);
export const roleOf = (req: IncomingMessage): Role => deviceOf(req)?.role ?? 'full';

/** The token of a request: of a program in its header, of a page in its cookie. */
function tokenOf(req: Request): string | null {
  const bearer = /^Bearer (\S{1,200})$/.exec(req.get('Authorization') ?? '');
  if (bearer) return bearer[1] as string;
  for (const part of (req.get('Cookie') ?? '').split(';')) {
    const [name, value] = part.trim().split('=');
    if (name === COOKIE && value) return value;
  }
  return null;
}

/** What a device that only reads may do besides. */
const TYPES: ReadonlySet<RouteName> = new Set<RouteName>([
  'ingest',
  'typed',
  'acknowledge',
  'silence',
  'shelve',
  'topUp',
  'answer',
  'rigs.previewImport',
  'replay',
]);
/** What a gateway may do. */
const SENDS: ReadonlySet<RouteName> = new Set<RouteName>(['ingest', 'health', 'me']);
/** What only the owner sees: backups carry everything, passwords too. */
const PRIVATE: ReadonlySet<RouteName> = new Set<RouteName>(['backups', 'backup', 'devices', 'gateway']);
/** What is done at the machine itself. */
const AT_HOME: ReadonlySet<RouteName> = new Set<RouteName>(['setNetwork', 'deviceCode']);
/** What a device may ask before it is paired. */
const OPEN: ReadonlySet<RouteName> = new Set<RouteName>(['pairDevice']);

/** @throws HttpProblem 401 when it isn't paired */
function pairedDevice(req: Request): Device {
  const device = deviceOf(req);
  if (device) return device;
  throw new HttpProblem(401, 'This device isn’t paired with Druckwerk', {
    detail: 'Open “Use it on a phone” on the computer and type the code it shows.',
  });
}

const onlySends = () => new HttpProblem(403, 'This device may only send readings');

/** For what any device that sees something may use. @throws HttpProblem 401 or 403 */
export function mustRead(req: Request, local: boolean): void {
  if (!local && pairedDevice(req).role === 'readings') throw onlySends();
}

/** @throws HttpProblem 401 or 403 when whoever asks may not use a route */
export function mustBeAllowed(name: RouteName, method: string, req: Request, local: boolean): void {
  if (local || OPEN.has(name)) return;
  const device = pairedDevice(req);
  if (AT_HOME.has(name)) throw new HttpProblem(403, 'This is done on the computer that Druckwerk runs on');
  const { role } = device;
  if (role === 'full') return;
  const reads = method === 'get' && !PRIVATE.has(name);
  if (role === 'readings' ? SENDS.has(name) : reads || TYPES.has(name)) return;
  throw role === 'readings' ? onlySends() : new HttpProblem(403, 'This device may only read, and type readings');
}

/** Finds out which device asks, and says so to whatever is changed for it. */
export function whoAsks(devices: Devices, isLocal: (req: IncomingMessage) => boolean): RequestHandler {
  return (req, _res, next) => {
    if (isLocal(req)) return next();
    const token = tokenOf(req);
    const device = token === null ? null : devices.byToken(token);
    if (!device) return next();
    devicesOf.set(req, device);
    void devices.seen(device).catch(() => undefined);
    asking.run({ device: device.name }, next);
  };
}
