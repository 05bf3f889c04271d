import { randomBytes } from 'node:crypto';
import { setTimeout as pause } from 'node:timers/promises';
import type { Knex } from 'knex';
import type { IPublishPacket, MqttClient } from 'mqtt';
import type { Logger } from 'pino';
import type { FileReading } from '#core/files/columns.ts';
import { readMessage } from '#core/files/message.ts';
import { OPEN_ID } from '#core/pairing/ids.ts';
import type { Alarm, WheelView } from '#schema/alarm.ts';
import { SENSOR_KEY_PATTERN } from '#schema/common.ts';
import { type GatewaySettings, type GatewayView, LONGEST_NAME, type UnknownSensor } from '#schema/gateway.ts';
import { inTransaction, onDisk, reading } from '../db/open.ts';
import type { LiveHub } from '../live/hub.ts';
import { badInput, HttpProblem } from '../problem.ts';
import type { Handlers } from '../routing.ts';
import type { WatchService } from '../watch/service.ts';
import { Arrivals } from './arrivals.ts';

/** Sensors that nobody knows, remembered at most. */
const MOST_UNKNOWN = 200;
/** A sensor not heard for this long is forgotten, ms. */
const UNKNOWN_MS = 86_400_000;
const RECONNECT_MS = 1000;
const RECONNECT_SOON_MS = 100;
/** Messages that are stored at once, at most. Brokers have about twenty on the way that aren't acknowledged (assumed; MQTT sets no figure). */
const MOST_WAITING = 64;
/** What the library sends with; it has no other way to acknowledge a message later. */
interface Acknowledging {
  _sendPacket(packet: { cmd: 'puback'; messageId: number | undefined }): void;
}
const ACKNOWLEDGED_LATER = new Error('Acknowledged when it is stored.');
/** A message that can't be stored is tried again after this, ms. The broker keeps the rest meanwhile. */
const AGAIN_MS = 2000;
/** What is said last before the line is ended on purpose is waited for so long, ms. */
const LAST_WORD_MS = 500;
/** After the line is there the broker hands over what waited for us, for about so long, ms (assumed). */
const WAITED_MS = 60_000;
const RETAINED = { qos: 1, retain: true } as const;
const LONGEST_MESSAGE = 20_000;
/** Lines that end this soon, ms, and so many of them in a row: somebody else is known to the broker by our name, and each pushes the other out. */
const SHORT_LINE_MS = 3000;
const SHORT_LINES = 4;

/**
 * Settings as they are kept: with a name of our own, by which the broker knows us again, and the topics it may still keep for that name from
 * settings before these.
 */
type Kept = GatewaySettings & { clientId: string; formerTopics?: string[] };

/** Former topics remembered at most. */
const MOST_FORMER = 20;

const newName = (): string => `druckwerk-${randomBytes(6).toString('hex')}`;

const ID = new RegExp(SENSOR_KEY_PATTERN);
/** Whether a text is a sensor's ID, or a key of ours. */
const isId = (text: string): boolean => ID.test(text);

/** No message was sent before that: a gateway that starts without its clock set counts from 1970. */
const EARLIEST_MS = Date.UTC(2000, 0, 1);

/** What is wrong with a message that can be read; null: nothing. */
function faultOf({ wheel, ms }: FileReading): string | null {
  if (wheel.length > LONGEST_NAME) return `“${wheel.slice(0, 40)}…” is too long for a name`;
  if (wheel.toUpperCase() === OPEN_ID) return `${OPEN_ID} is an open position, and no sensor’s ID`;
  if (ms < EARLIEST_MS) return `it is dated ${new Date(ms).toISOString().slice(0, 10)}, so the gateway’s clock isn’t set`;
  return null;
}

/** Readings that come in over MQTT, and alarms that go out. */
export class GatewayService {
  readonly #db: Knex;
  readonly #watch: WatchService;
  readonly #hub: LiveHub;
  readonly #now: () => number;
  readonly #log: Logger;
  #kept: Kept | null = null;
  #client: MqttClient | null = null;
  readonly #arrivals = new Arrivals();
  /** Counts stops: what began before one doesn't connect after it. */
  #turn = 0;
  #state: GatewayView['state'] = 'off';
  #sinceMs: number | null = null;
  #fault: string | null = null;
  #shortLines = 0;
  #counts = { messages: 0, stored: 0, refused: 0 };
  #lastMs: number | null = null;
  #apartMs: number | null = null;
  readonly #unknown = new Map<string, { count: number; firstMs: number; lastMs: number; kpa: number; tempC: number | null }>();
  #untap: (() => void) | null = null;
  /** Topics that went out in this run of the server, by rig and wheel (or unit). */
  readonly #sent = new Map<string, { rigId: string; position: string }>();

  constructor(db: Knex, watch: WatchService, hub: LiveHub, now: () => number, log: Logger) {
    this.#db = db;
    this.#watch = watch;
    this.#hub = hub;
    this.#now = now;
    this.#log = log;
  }

  /** Take up the settings, and connect when they say so. */
  async start(): Promise<void> {
    const text = await reading(
      this.#db,
      (raw) => raw.prepare("select value from meta where name = 'gateway'").pluck().get() as string | undefined,
    );
    this.#kept = text === undefined ? null : (JSON.parse(text) as Kept);
    await this.#connect();
  }

  async stop(): Promise<void> {
    this.#turn += 1;
    this.#untap?.();
    this.#untap = null;
    const client = this.#client;
    this.#client = null;
    if (client?.connected && this.#kept?.publish != null) {
      // Whoever shows what went out must know that nothing follows. A broker that doesn't answer isn't waited for.
      const said = client.publishAsync(`${this.#kept.publish}/online`, 'false', RETAINED);
      await Promise.race([said.catch(() => undefined), pause(LAST_WORD_MS, undefined, { ref: false })]);
    }
    await client?.endAsync(true).catch(() => undefined);
  }

  /** Change the settings and connect again. */
  async set(sent: GatewaySettings): Promise<GatewayView> {
    if (
      sent.topic
        .split('/')
        .some((l, i, all) => (l.includes('#') && (l !== '#' || i < all.length - 1)) || (l.includes('+') && l !== '+'))
    )
      throw badInput([{ pointer: '/topic', detail: 'uses + or # as part of a level, or # before the end' }]);
    const password = sent.password ?? this.#kept?.password;
    const before = this.#kept;
    const formerTopics = [...new Set([...(before ? [before.topic, ...(before.formerTopics ?? [])] : [])])]
      .filter((topic) => topic !== sent.topic)
      .slice(0, MOST_FORMER);
    const kept: Kept = {
      ...sent,
      formerTopics,
      ...(password === undefined ? {} : { password }),
      clientId: this.#kept?.clientId ?? newName(),
    };
    return this.#takeUp(kept);
  }

  /** Connect under a new name: what the broker keeps for the old one stays with whoever else has it. */
  async rename(): Promise<GatewayView> {
    if (this.#kept === null) throw new HttpProblem(404, 'Readings over MQTT aren’t set up.');
    // Topics of before are known to the broker by the old name only.
    const { formerTopics: _former, ...kept } = this.#kept;
    return this.#takeUp({ ...kept, clientId: newName() });
  }

  async #takeUp(kept: Kept): Promise<GatewayView> {
    await inTransaction(this.#db, (raw) =>
      raw
        .prepare("insert into meta (name, value) values ('gateway', ?) on conflict (name) do update set value = excluded.value")
        .run(JSON.stringify(kept)),
    );
    await this.stop();
    this.#kept = kept;
    await this.#connect();
    return this.view();
  }

  view(): GatewayView {
    const iso = (ms: number | null) => (ms === null ? null : new Date(ms).toISOString());
    const settings = this.#kept && (({ password: _p, clientId: _c, formerTopics: _f, ...rest }: Kept) => rest)(this.#kept);
    return {
      settings,
      hasPassword: this.#kept?.password !== undefined,
      state: this.#state,
      since: iso(this.#sinceMs),
      fault: this.#fault,
      pushedOut: this.#shortLines >= SHORT_LINES,
      ...this.#counts,
      lastTime: iso(this.#lastMs),
      apartS: this.#apartMs === null ? null : this.#apartMs / 1000,
      unknown: this.#unknownList(),
    };
  }

  #unknownList(): UnknownSensor[] {
    const now = this.#now();
    const names = this.#kept?.names ?? {};
    const knows = (id: string) => this.#watch.knows((Object.hasOwn(names, id) ? (names[id] as string) : id).toUpperCase());
    for (const [id, u] of this.#unknown) if (knows(id) || now - u.lastMs > UNKNOWN_MS) this.#unknown.delete(id);
    return [...this.#unknown]
      .sort(([, a], [, b]) => b.lastMs - a.lastMs)
      .map(([id, u]) => ({
        id,
        isName: !isId(id),
        count: u.count,
        firstTime: new Date(u.firstMs).toISOString(),
        lastTime: new Date(u.lastMs).toISOString(),
        pressureKpa: u.kpa,
        tempC: u.tempC,
      }));
  }

  #setState(state: GatewayView['state']): void {
    if (this.#state !== state) this.#sinceMs = this.#now();
    this.#state = state;
  }

  async #connect(): Promise<void> {
    const kept = this.#kept;
    this.#fault = null;
    this.#apartMs = null;
    this.#shortLines = 0;
    if (!kept?.enabled) {
      this.#setState('off');
      return;
    }
    this.#setState('connecting');
    // Most worlds have no gateway, and start sooner without it.
    const turn = this.#turn;
    const { default: mqtt } = await import('mqtt');
    // Stopped, or set otherwise, in the meantime.
    if (turn !== this.#turn) return;
    const client = mqtt.connect(kept.url, {
      clientId: kept.clientId,
      // The broker keeps what comes while we are away.
      clean: false,
      // We ask for the topic at each connection ourselves, and wait for the answer.
      resubscribe: false,
      reconnectPeriod: RECONNECT_MS,
      connectTimeout: 10_000,
      // Said by the broker when this server is gone without a word: what it keeps of us would look live.
      ...(kept.publish === null ? {} : { will: { topic: `${kept.publish}/online`, payload: Buffer.from('false'), ...RETAINED } }),
      ...(kept.username === undefined ? {} : { username: kept.username }),
      ...(kept.password === undefined ? {} : { password: kept.password }),
    });
    this.#client = client;
    let breaks = 0;
    let short = false;
    // A message is acknowledged only when it is stored; until then the broker sends it again. Not on another line than it came by: there the broker
    // may have given its number to another message, which would be lost. Those that come meanwhile are stored together with it, so that all of them
    // wait for the disk once, and acknowledged in their order, as MQTT wants it (OASIS MQTT 3.1.1, MQTT-4.6.0-2). The library would acknowledge one
    // before it hands over the next; told that something is wrong it goes on without.
    let waiting = 0;
    let room: (() => void) | null = null;
    let before: Promise<void> = Promise.resolve();
    client.handleMessage = (packet, done) => {
      const line = breaks;
      // Not stored, as when it is stopped: not acknowledged. Said at once, and not first when those before it are done.
      const stored = this.#take(packet, kept).then(
        () => true,
        () => false,
      );
      waiting += 1;
      before = before
        .then(() => stored)
        .then((isStored) => {
          if (isStored && packet.qos === 1 && client.connected && line === breaks)
            (client as unknown as Acknowledging)._sendPacket({ cmd: 'puback', messageId: packet.messageId });
        })
        .finally(() => {
          waiting -= 1;
          const go = room;
          room = null;
          go?.();
        });
      const next = () => done(ACKNOWLEDGED_LATER);
      if (waiting < MOST_WAITING) next();
      else room = next;
    };
    let takenDown = false;
    let steady: NodeJS.Timeout | undefined;
    let lasting: NodeJS.Timeout | undefined;
    client.on('connect', ({ sessionPresent }) => {
      this.#fault = null;
      short = true;
      lasting = setTimeout(() => {
        short = false;
        this.#shortLines = 0;
      }, SHORT_LINE_MS).unref();
      // A line that was there for a while is mostly there again at once. Not one that ends each time: two servers of one world push each other out.
      steady = setTimeout(() => {
        client.options.reconnectPeriod = RECONNECT_SOON_MS;
      }, RECONNECT_MS).unref();
      // Asked once more, a broker that has it still would send again what it keeps under the topic.
      if (takenDown && sessionPresent) this.#setState('connected');
      else {
        for (const topic of kept.formerTopics ?? []) client.unsubscribe(topic);
        // What is published before the broker has taken the topic down is not for us: only then is anything heard.
        client.subscribe(kept.topic, { qos: 1 }, (error) => {
          if (this.#client !== client || !client.connected) return;
          takenDown = !error;
          this.#setState('connected');
          if (error) this.#fault = `The broker doesn’t let us listen to ${kept.topic}: ${error.message}`;
        });
      }
      // The next connection says it all again.
      this.#publishAll(client, kept).catch((err) => this.#log.warn({ err }, 'states could not go out'));
    });
    client.on('close', () => {
      breaks += 1;
      if (this.#client !== client) return;
      clearTimeout(steady);
      clearTimeout(lasting);
      if (short) this.#shortLines += 1;
      short = false;
      // The first try after a break is on its way by now.
      client.options.reconnectPeriod = RECONNECT_MS;
      this.#setState(this.#state === 'connected' || this.#state === 'lost' ? 'lost' : 'connecting');
    });
    client.on('error', (error) => {
      const code = String((error as { code?: unknown }).code ?? '');
      this.#fault =
        code === 'ECONNREFUSED' ? `Nobody answers at ${kept.url}.` : `${kept.url} can’t be reached: ${error.message || code}`;
    });
    if (kept.publish !== null) {
      const prefix = kept.publish;
      this.#untap = this.#hub.tap((rigId, event, data) => {
        if (!client.connected) return;
        if (event === 'wheel') this.#publishWheel(client, prefix, rigId, data as WheelView);
        else if (event === 'alarm') this.#publishAlarm(client, prefix, data as Alarm);
        else if (event === 'rig') this.#takeBack(client, rigId);
      });
    }
  }

  /** Store what a message says. Resolves when it is stored, or can never be. */
  async #take(packet: IPublishPacket, kept: Kept): Promise<void> {
    // The broker had it before we listened. Nobody knows how old it is when it doesn't say so; dated now it would look live.
    if (packet.retain && kept.fields.time === null) return;
    const nowMs = this.#now();
    this.#counts.messages += 1;
    this.#lastMs = nowMs;
    const payload = packet.payload.toString();
    const arrivedMs = kept.fields.time === null ? this.#arrivals.timeOf({ ...packet, payload }, nowMs) : nowMs;
    const got =
      payload.length > LONGEST_MESSAGE
        ? { column: '', detail: 'is too long' }
        : readMessage(packet.topic, payload, kept.fields, kept.names, arrivedMs);
    if (got === null) return;
    const fault = 'detail' in got ? `${got.column} ${got.detail}`.trim() : faultOf(got);
    if (fault !== null || 'detail' in got) {
      this.#counts.refused += 1;
      this.#fault = `A message under ${packet.topic.slice(0, 80)} can’t be read: ${fault}`;
      return;
    }
    const { wheel, ms, pressureKpa, tempC, batteryV, rssiDbm } = got;
    // What waited at the broker while we were away is old by right.
    const waited = packet.retain || (ms < nowMs && nowMs - (this.#sinceMs ?? nowMs) < WAITED_MS);
    if (kept.fields.time !== null && !waited) this.#apartMs = ms - nowMs;
    const id = isId(wheel) ? wheel.toUpperCase() : wheel;
    if (!isId(id) || !this.#watch.knows(id)) {
      // The sensor that a name was for may have been replaced: then the name is asked about again.
      this.#noteUnknown(
        Object.keys(kept.names).find((name) => kept.names[name]?.toUpperCase() === id) ?? id,
        nowMs,
        pressureKpa,
        tempC,
      );
      return;
    }
    for (;;) {
      try {
        const counts = await this.#watch.ingest([{ sensorId: id, ms, pressureKpa, tempC, batteryV, rssiDbm }], 'live');
        await onDisk(this.#db);
        this.#counts.stored += counts.accepted;
        return;
      } catch (error) {
        this.#fault = (error as Error).message;
        this.#log.warn({ err: error }, 'a message could not be stored yet');
        if (this.#client === null) throw error;
        await pause(AGAIN_MS, undefined, { ref: false });
      }
    }
  }

  #noteUnknown(id: string, ms: number, kpa: number, tempC: number | null): void {
    const known = this.#unknown.get(id);
    this.#unknown.set(id, { count: (known?.count ?? 0) + 1, firstMs: known?.firstMs ?? ms, lastMs: ms, kpa, tempC });
    if (this.#unknown.size <= MOST_UNKNOWN) return;
    const [oldest] = [...this.#unknown].sort(([, a], [, b]) => a.lastMs - b.lastMs);
    if (oldest) this.#unknown.delete(oldest[0]);
  }

  /** Say how everything is now: who listens later gets it too. */
  async #publishAll(client: MqttClient, kept: Kept): Promise<void> {
    if (kept.publish === null) return;
    client.publish(`${kept.publish}/online`, 'true', RETAINED);
    for (const rigId of this.#watch.rigIds()) {
      for (const wheel of this.#watch.view(rigId).wheels) this.#publishWheel(client, kept.publish, rigId, wheel);
      // One may have ended while the line was broken.
      for (const alarm of await this.#watch.lastAlarms(rigId)) this.#publishAlarm(client, kept.publish, alarm);
    }
  }

  #publish(client: MqttClient, topic: string, of: { rigId: string; position: string }, message: object): void {
    this.#sent.set(topic, of);
    client.publish(topic, JSON.stringify(message), RETAINED);
  }

  /** A rig was changed or deleted: the broker forgets what it keeps of wheels that are gone. */
  #takeBack(client: MqttClient, rigId: string): void {
    const wheels = this.#watch.has(rigId) ? this.#watch.wheels(rigId).map((w) => w.position) : [];
    for (const [topic, of] of this.#sent) {
      // A repeater's alarm names its unit.
      if (of.rigId !== rigId || wheels.some((p) => p === of.position || p.startsWith(of.position))) continue;
      client.publish(topic, '', RETAINED);
      this.#sent.delete(topic);
    }
  }

  #publishWheel(client: MqttClient, prefix: string, rigId: string, w: WheelView): void {
    const { position, state, pressureKpa, tempC, time, practice, active } = w;
    const message = { position, state, pressureKpa, tempC, time, alarms: active, practice };
    this.#publish(client, `${prefix}/${rigId}/wheel/${position}`, { rigId, position }, message);
  }

  #publishAlarm(client: MqttClient, prefix: string, a: Alarm): void {
    const { rigId, position, kind, severity, fromTime, toTime, acknowledgedAt, limit, value, worst, practice } = a;
    const active = toTime === null && a.withdrawn !== true;
    const message = {
      position,
      kind,
      priority: severity,
      active,
      fromTime,
      toTime,
      acknowledgedAt,
      limit,
      value,
      worst,
      practice,
    };
    this.#publish(client, `${prefix}/${rigId}/alarm/${position}/${kind}`, { rigId, position }, message);
  }
}

/** The gateway by request. */
export function gatewayHandlers(gateway: GatewayService): Pick<Handlers, 'gateway' | 'setGateway' | 'renameGateway'> {
  return {
    gateway: () => gateway.view(),
    setGateway: ({ body }) => gateway.set(body),
    renameGateway: () => gateway.rename(),
  };
}
