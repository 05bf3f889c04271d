import { existsSync } from 'node:fs';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { createServer, type RequestListener, type Server } from 'node:http';
import { createServer as createTlsServer } from 'node:https';
import { hostname, networkInterfaces } from 'node:os';
import { join } from 'node:path';
import type { Knex } from 'knex';
import type { NetworkView } from '#schema/devices.ts';
import { inTransaction, reading } from '../db/open.ts';

/** A certificate is made for this long, days; browsers take none for longer. */
const CERTIFICATE_DAYS = 397;

/** Addresses of this machine in its networks, without loopback. */
export const ownAddresses = (): string[] =>
  Object.values(networkInterfaces())
    .flatMap((list) => list ?? [])
    .filter((a) => !a.internal && a.family === 'IPv4')
    .map((a) => a.address);

/** Names this machine answers to in the home network. */
export const ownNames = (): string[] => [...ownAddresses(), hostname().toLowerCase(), `${hostname().toLowerCase()}.local`];

/** The listener for the home network, on the owner's wish only. The one on loopback is none of its business. */
export class Network {
  readonly #db: Knex;
  readonly #folder: string;
  readonly #https: boolean;
  readonly #handler: RequestListener;
  #server: Server | null = null;
  #fault: string | null = null;
  #port: number;

  /** @param options.port it listens on; 0: any @param options.https with a certificate of its own */
  constructor(db: Knex, handler: RequestListener, options: { folder: string; port: number; https: boolean }) {
    this.#db = db;
    this.#handler = handler;
    this.#folder = options.folder;
    this.#port = options.port;
    this.#https = options.https;
  }

  get on(): boolean {
    return this.#server !== null;
  }

  /** Listen when the owner had switched it on before. */
  async start(): Promise<void> {
    const on = await reading(this.#db, (raw) => raw.prepare("select value from meta where name = 'network'").pluck().get());
    if (on === 'on') await this.#open();
  }

  async set(on: boolean): Promise<NetworkView> {
    await inTransaction(this.#db, (raw) =>
      raw
        .prepare("insert into meta (name, value) values ('network', ?) on conflict (name) do update set value = excluded.value")
        .run(on ? 'on' : 'off'),
    );
    if (on) await this.#open();
    else await this.stop();
    return this.view();
  }

  view(): NetworkView {
    const scheme = this.#https ? 'https' : 'http';
    const addresses = this.on ? ownAddresses().map((a) => `${scheme}://${a}:${this.#port}`) : [];
    return { on: this.on, https: this.#https, addresses, fault: this.#fault };
  }

  async #open(): Promise<void> {
    if (this.#server) return;
    this.#fault = null;
    const server = this.#https ? createTlsServer(await this.#certificate(), this.#handler) : createServer(this.#handler);
    await new Promise<void>((done) => {
      server.once('error', (error: NodeJS.ErrnoException) => {
        this.#fault = error.code === 'EADDRINUSE' ? `Port ${this.#port} is taken. Stop what uses it.` : error.message;
        done();
      });
      server.listen(this.#port, '0.0.0.0', () => {
        this.#server = server;
        const address = server.address();
        if (typeof address === 'object' && address) this.#port = address.port;
        done();
      });
    });
  }

  async stop(): Promise<void> {
    const server = this.#server;
    this.#server = null;
    if (!server) return;
    await new Promise<void>((done) => {
      server.close(() => done());
      server.closeAllConnections();
    });
  }

  /** The certificate of this machine: made once, with its addresses in it. The key is for the owner's eyes only. */
  async #certificate(): Promise<{ key: string; cert: string }> {
    const folder = join(this.#folder, 'tls');
    const [keyFile, certFile] = [join(folder, 'key.pem'), join(folder, 'certificate.pem')];
    if (!existsSync(keyFile) || !existsSync(certFile)) {
      await mkdir(folder, { recursive: true, mode: 0o700 });
      const { generate } = await import('selfsigned');
      const made = await generate([{ name: 'commonName', value: 'Druckwerk' }], {
        keyType: 'ec',
        algorithm: 'sha256',
        notAfterDate: new Date(Date.now() + CERTIFICATE_DAYS * 86_400_000),
        extensions: [
          { name: 'basicConstraints', cA: false },
          {
            name: 'subjectAltName',
            altNames: [
              { type: 2, value: 'localhost' },
              { type: 2, value: hostname() },
              { type: 2, value: `${hostname()}.local` },
              ...['127.0.0.1', ...ownAddresses()].map((ip) => ({ type: 7 as const, ip })),
            ],
          },
        ],
      });
      await writeFile(keyFile, made.private, { mode: 0o600 });
      await writeFile(certFile, made.cert);
    }
    return { key: await readFile(keyFile, 'utf8'), cert: await readFile(certFile, 'utf8') };
  }
}
