import type { IncomingMessage } from 'node:http';
import type { LiveHub } from '../live/hub.ts';
import type { Handlers } from '../routing.ts';
import { COOKIE, deviceOf, isEncrypted, roleOf } from './access.ts';
import type { Devices } from './devices.ts';
import type { Network } from './network.ts';

const COOKIE_S = 400 * 86_400;

type Names = 'network' | 'setNetwork' | 'devices' | 'deviceCode' | 'pairDevice' | 'renameDevice' | 'revokeDevice' | 'me';

/** Devices of the home network by request. */
export function deviceHandlers(
  devices: Devices,
  network: Network,
  hub: LiveHub,
  isLocal: (req: IncomingMessage) => boolean,
): Pick<Handlers, Names> {
  return {
    network: () => network.view(),
    setNetwork: ({ body }) => network.set(body.on),
    devices: () => devices.list(),
    async deviceCode({ body }) {
      const { default: QRCode } = await import('qrcode');
      const { code, untilMs } = devices.makeCode(body.name, body.role);
      const ways = network.view().addresses.map(async (address) => {
        // Behind the #, so that it is in no log of any server.
        const url = `${address}/pair#${code}`;
        return { url, svg: await QRCode.toString(url, { type: 'svg', margin: 2, errorCorrectionLevel: 'M' }) };
      });
      return { code, until: new Date(untilMs).toISOString(), ways: await Promise.all(ways) };
    },
    async pairDevice({ body, req, res }) {
      const paired = await devices.pair(body.code);
      res.cookie(COOKIE, paired.token, {
        httpOnly: true,
        sameSite: 'strict',
        secure: isEncrypted(req),
        maxAge: COOKIE_S * 1000,
        path: '/',
      });
      return paired;
    },
    renameDevice: ({ params, body }) => devices.rename(params.id, body.name),
    async revokeDevice({ params }) {
      await devices.revoke(params.id);
      hub.dropDevice(params.id);
      return undefined;
    },
    me({ req }) {
      const device = deviceOf(req) ?? null;
      return { device, role: roleOf(req), safe: isLocal(req) || isEncrypted(req) };
    },
  };
}
