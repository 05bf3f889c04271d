import { createHash, randomBytes, randomInt, randomUUID, timingSafeEqual } from 'node:crypto';
import type { Database } from 'better-sqlite3';
import type { Knex } from 'knex';
import type { Device, Role } from '#schema/devices.ts';
import { inTransaction, reading } from '../db/open.ts';
import { HttpProblem, notFound } from '../problem.ts';

/** A code is good for this long, ms, and for one device. */
const CODE_MS = 5 * 60_000;
/** Wrong guesses after which the code is void. */
const GUESSES = 10;
/** Wrong guesses in a minute after which nobody may guess for the rest of it, from wherever. */
const GUESSES_A_MINUTE = 5;
/** When a device was seen is written at most this often, ms. */
const SEEN_MS = 60_000;

interface Row {
  id: string;
  name: string;
  role: Role;
  token_hash: string;
  made_at: string;
  seen_at: string | null;
}

const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');
const toDevice = (r: Row): Device => ({ id: r.id, name: r.name, role: r.role, madeAt: r.made_at, seenAt: r.seen_at });

/** A code that is shown on the screen of this machine. */
interface Code {
  code: string;
  untilMs: number;
  name: string;
  role: Role;
  wrong: number;
}

/** Devices that were paired: what each may do, and a hash of its token. */
export class Devices {
  readonly #db: Knex;
  readonly #now: () => number;
  /** By the hash of their token. */
  #known = new Map<string, Device>();
  #code: Code | null = null;
  #wrongAt: number[] = [];

  constructor(db: Knex, now: () => number) {
    this.#db = db;
    this.#now = now;
  }

  async load(): Promise<void> {
    const rows = await reading(this.#db, (raw) => raw.prepare('select * from devices order by made_at').all() as Row[]);
    this.#known = new Map(rows.map((r) => [r.token_hash, toDevice(r)]));
    this.#code = null;
  }

  /** Store the devices that are known now, in the place of those that are stored: after a restore they are those of before. */
  async keep(): Promise<void> {
    await inTransaction(this.#db, (raw) => {
      raw.prepare('delete from devices').run();
      for (const [hash, device] of this.#known) insert(raw, device, hash);
    });
  }

  list(): Device[] {
    return [...this.#known.values()];
  }

  /** The device of a token; null: it is none, or was revoked. */
  byToken(token: string): Device | null {
    return this.#known.get(hashOf(token)) ?? null;
  }

  /** Note that a device was here. */
  async seen(device: Device): Promise<void> {
    const now = this.#now();
    if (device.seenAt !== null && now - Date.parse(device.seenAt) < SEEN_MS) return;
    device.seenAt = new Date(now).toISOString();
    await inTransaction(this.#db, (raw) =>
      raw.prepare('update devices set seen_at = ? where id = ?').run(device.seenAt, device.id),
    );
  }

  /** Show a new code; the one before is void. Eight digits, as they can be typed on a phone. */
  makeCode(name: string, role: Role): { code: string; untilMs: number } {
    const code = String(randomInt(100_000_000)).padStart(8, '0');
    this.#code = { code, untilMs: this.#now() + CODE_MS, name, role, wrong: 0 };
    return { code, untilMs: this.#code.untilMs };
  }

  /**
   * Pair the device that knows the code.
   * @returns the device and its token, which is kept as a hash only
   * @throws HttpProblem 403 at a wrong code, 429 after too many of them
   */
  async pair(sent: string): Promise<{ device: Device; token: string }> {
    const now = this.#now();
    this.#wrongAt = this.#wrongAt.filter((at) => now - at < 60_000);
    if (this.#wrongAt.length >= GUESSES_A_MINUTE) {
      throw new HttpProblem(429, 'Too many wrong codes', {
        detail: 'Wait a minute, then type the code that is on the screen.',
        headers: { 'Retry-After': '60' },
      });
    }
    const code = this.#code;
    const digits = sent.replaceAll(/\D/g, '');
    if (!code || code.untilMs < now || !same(digits, code.code)) {
      this.#wrongAt.push(now);
      if (code) code.wrong += 1;
      if (code && (code.wrong >= GUESSES || code.untilMs < now)) this.#code = null;
      throw new HttpProblem(403, 'That isn’t the code', {
        detail: 'Look at the screen of the computer; a code is good for five minutes.',
      });
    }
    this.#code = null;
    const token = randomBytes(32).toString('base64url');
    const device: Device = {
      id: randomUUID(),
      name: code.name,
      role: code.role,
      madeAt: new Date(now).toISOString(),
      seenAt: null,
    };
    await inTransaction(this.#db, (raw) => insert(raw, device, hashOf(token)));
    this.#known.set(hashOf(token), device);
    return { device, token };
  }

  /** @throws HttpProblem 404 */
  async rename(id: string, name: string): Promise<Device> {
    const device = this.#byId(id);
    await inTransaction(this.#db, (raw) => raw.prepare('update devices set name = ? where id = ?').run(name, id));
    device.name = name;
    return device;
  }

  /** From now on its token is good for nothing. @throws HttpProblem 404 */
  async revoke(id: string): Promise<void> {
    this.#byId(id);
    await inTransaction(this.#db, (raw) => raw.prepare('delete from devices where id = ?').run(id));
    for (const [hash, d] of this.#known) if (d.id === id) this.#known.delete(hash);
  }

  #byId(id: string): Device {
    const device = this.list().find((d) => d.id === id);
    if (!device) throw notFound('device');
    return device;
  }
}

const insert = (raw: Database, d: Device, hash: string) =>
  raw
    .prepare('insert into devices (id, name, role, token_hash, made_at, seen_at) values (?, ?, ?, ?, ?, ?)')
    .run(d.id, d.name, d.role, hash, d.madeAt, d.seenAt);

/** Takes as long for any wrong code. */
function same(a: string, b: string): boolean {
  const [x, y] = [hashOf(a), hashOf(b)].map((h) => Buffer.from(h)) as [Buffer, Buffer];
  return timingSafeEqual(x, y);
}
