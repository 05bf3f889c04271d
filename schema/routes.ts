import { type Static, type TObject, type TSchema, Type } from '@sinclair/typebox';
import {
  Alarm as AlarmSchema,
  type Alarm as AlarmType,
  AnswerRequest,
  RepeaterRequest,
  ReplayRequest as ReplayRequestSchema,
  type ReplayRequest as ReplayRequestType,
  RestRequest,
  Shelf,
  ShelveRequest,
  SilenceRequest,
  TopUpRequest,
  TrackRequest,
  TypedRound as TypedRoundSchema,
  type TypedRound as TypedRoundType,
  WatchView as WatchViewSchema,
  type WatchView as WatchViewType,
} from './alarm.ts';
import { BackupEntry, BackupList, Health, Restored, RestorePreview } from './backup.ts';
import {
  BenchAnswer as BenchAnswerSchema,
  type BenchAnswer as BenchAnswerType,
  BenchCommand as BenchCommandSchema,
  type BenchCommand as BenchCommandType,
  BenchView as BenchViewSchema,
  type BenchView as BenchViewType,
} from './bench.ts';
import { DueEntry } from './calendar.ts';
import { ChangesAnswer as ChangesAnswerSchema, type ChangesAnswer as ChangesAnswerType, ChangesRequest } from './changes.ts';
import { Id, Name, strict, Time } from './common.ts';
import { CodeAnswer, CodeRequest, Device, Me, NetworkRequest, NetworkView, PairAnswer, PairRequest } from './devices.ts';
import {
  ImportPreview as ImportPreviewSchema,
  type ImportPreview as ImportPreviewType,
  RigExport as RigExportSchema,
  type RigExport as RigExportType,
} from './exchange.ts';
import { ColumnMappingSchema } from './files.ts';
import { GatewaySettings, GatewayView } from './gateway.ts';
import {
  ChartAnswer as ChartAnswerSchema,
  type ChartAnswer as ChartAnswerType,
  ImportAnswer as ImportAnswerSchema,
  type ImportAnswer as ImportAnswerType,
  LearnedRise as LearnedRiseSchema,
  type LearnedRise as LearnedRiseType,
  ReadingsAnswer as ReadingsAnswerSchema,
  type ReadingsAnswer as ReadingsAnswerType,
  ReplayAnswer as ReplayAnswerSchema,
  type ReplayAnswer as ReplayAnswerType,
  Span,
} from './history.ts';
import { LogEvent } from './log.ts';
import {
  Monitor as MonitorSchema,
  type Monitor as MonitorType,
  NewMonitor as NewMonitorSchema,
  type NewMonitor as NewMonitorType,
} from './monitor.ts';
import {
  IngestAnswer as IngestAnswerSchema,
  type IngestAnswer as IngestAnswerType,
  TypedAnswer as TypedAnswerSchema,
  type TypedAnswer as TypedAnswerType,
} from './reading.ts';
import {
  Report as ReportSchema,
  type Report as ReportType,
  ReportVersion as ReportVersionSchema,
  type ReportVersion as ReportVersionType,
} from './report.ts';
import {
  NewRig as NewRigSchema,
  type NewRig as NewRigType,
  NewUnit as NewUnitSchema,
  type NewUnit as NewUnitType,
  Rig as RigSchema,
  type Rig as RigType,
  Unit as UnitSchema,
  type Unit as UnitType,
} from './unit.ts';
import { PastVersion } from './versions.ts';

/** Documents by name. Named, so that the type of the table stays short enough to be written down. */
interface Documents {
  Alarm: AlarmType;
  BenchAnswer: BenchAnswerType;
  BenchCommand: BenchCommandType;
  BenchView: BenchViewType;
  ChangesAnswer: ChangesAnswerType;
  ChartAnswer: ChartAnswerType;
  ImportAnswer: ImportAnswerType;
  ImportPreview: ImportPreviewType;
  IngestAnswer: IngestAnswerType;
  LearnedRise: LearnedRiseType;
  Monitor: MonitorType;
  NewMonitor: NewMonitorType;
  NewRig: NewRigType;
  NewUnit: NewUnitType;
  ReadingsAnswer: ReadingsAnswerType;
  ReplayAnswer: ReplayAnswerType;
  ReplayRequest: ReplayRequestType;
  Report: ReportType;
  ReportVersion: ReportVersionType;
  Rig: RigType;
  RigExport: RigExportType;
  TypedAnswer: TypedAnswerType;
  TypedRound: TypedRoundType;
  Unit: UnitType;
  WatchView: WatchViewType;
  SentUnit: Partial<Pick<UnitType, 'id'>> & Omit<UnitType, 'id'>;
  SentRig: Partial<Pick<RigType, 'id'>> & Omit<RigType, 'id'>;
  SentMonitor: Partial<Pick<MonitorType, 'id'>> & Omit<MonitorType, 'id'>;
  ChangesRequest: Static<typeof ChangesRequest>;
  ColumnMapping: Static<typeof ColumnMappingSchema>;
}
/** The schema of a named document. */
export interface Doc<N extends keyof Documents> extends TSchema {
  static: Documents[N];
}
const doc = <N extends keyof Documents>(_name: N, schema: TSchema): Doc<N> => schema as Doc<N>;

const Alarm = doc('Alarm', AlarmSchema);
const WatchView = doc('WatchView', WatchViewSchema);
const BenchAnswer = doc('BenchAnswer', BenchAnswerSchema);
const BenchCommand = doc('BenchCommand', BenchCommandSchema);
const BenchView = doc('BenchView', BenchViewSchema);
const ChangesAnswer = doc('ChangesAnswer', ChangesAnswerSchema);
const ImportPreview = doc('ImportPreview', ImportPreviewSchema);
const RigExport = doc('RigExport', RigExportSchema);
const ChartAnswer = doc('ChartAnswer', ChartAnswerSchema);
const ImportAnswer = doc('ImportAnswer', ImportAnswerSchema);
const LearnedRise = doc('LearnedRise', LearnedRiseSchema);
const ReadingsAnswer = doc('ReadingsAnswer', ReadingsAnswerSchema);
const ReplayAnswer = doc('ReplayAnswer', ReplayAnswerSchema);
const Monitor = doc('Monitor', MonitorSchema);
const NewMonitor = doc('NewMonitor', NewMonitorSchema);
const IngestAnswer = doc('IngestAnswer', IngestAnswerSchema);
const TypedAnswer = doc('TypedAnswer', TypedAnswerSchema);
const Report = doc('Report', ReportSchema);
const ReportVersion = doc('ReportVersion', ReportVersionSchema);
const NewRig = doc('NewRig', NewRigSchema);
const NewUnit = doc('NewUnit', NewUnitSchema);
const Rig = doc('Rig', RigSchema);
const Unit = doc('Unit', UnitSchema);
const ReplayRequest = doc('ReplayRequest', ReplayRequestSchema);
const TypedRound = doc('TypedRound', TypedRoundSchema);

/** An answer that is no JSON document: its media types. */
export interface Media {
  media: readonly string[];
}

/** One route under `/api`. The table of them feeds the checks of the server, its OpenAPI file and the types of the page's client. */
export interface RouteDescription {
  method: 'get' | 'post' | 'put' | 'delete';
  /** Below `/api`; parts in braces are parameters. */
  path: string;
  summary: string;
  /** What may follow the question mark; nothing else is taken. */
  query?: TObject;
  /** A JSON document. */
  body?: TSchema;
  /** The most a JSON body may weigh, bytes; 1 MB unless given. */
  bodyLimit?: number;
  /** A body that the handler reads itself. */
  rawBody?: Media;
  /** Answers of success by status; null: without a body. The first is the usual one. */
  answers: Record<number, TSchema | Media | null>;
  /** Problems that are more than bad input (400). */
  problems?: Record<number, string>;
}

/** Id of the last event that was seen: what came since is sent first. A `Last-Event-ID` header says the same. */
const LastId = Type.Optional(Type.String({ maxLength: 60 }));

const NoRig = { 404: 'There is no such rig' };
const Flag = Type.Union([Type.Literal('true'), Type.Literal('1'), Type.Literal('')]);
const FileFormat = Type.Optional(Type.Union([Type.Literal('csv'), Type.Literal('ndjson')]));
const Empty = Type.Object({}, strict);
const MB = 1_000_000;

/** Body of a PUT: the document as it was read, its id may be left to the address. */
const sent = <T extends TObject>(doc: T) =>
  Type.Composite([Type.Partial(Type.Pick(doc, ['id'])), Type.Omit(doc, ['id'])], strict);

/** The five routes of one kind of stored document. */
const records = <const N extends string, D extends TSchema, F extends TSchema, P extends TSchema>(
  noun: N,
  record: D,
  fresh: F,
  put: P,
) =>
  ({
    list: { method: 'get', path: `/${noun}`, summary: `All ${noun}`, answers: { 200: Type.Array(record) } },
    create: { method: 'post', path: `/${noun}`, summary: `Add to the ${noun}`, body: fresh, answers: { 201: record } },
    read: {
      method: 'get',
      path: `/${noun}/{id}`,
      summary: `One of the ${noun}`,
      answers: { 200: record },
      problems: { 404: 'There is none' },
    },
    replace: {
      method: 'put',
      path: `/${noun}/{id}`,
      summary: 'Replace it; the document carries the version it was made from',
      body: put,
      answers: { 200: record },
      problems: { 404: 'There is none', 409: 'It was changed in the meantime; the problem carries both versions' },
    },
    remove: {
      method: 'delete',
      path: `/${noun}/{id}`,
      summary: 'Delete it; it can be restored',
      answers: { 204: null },
      problems: { 404: 'There is none', 409: 'It is still in use', 412: 'It is not the version that If-Match names' },
    },
    restore: {
      method: 'post',
      path: `/${noun}/{id}/restore`,
      summary: 'Take back a deletion',
      answers: { 200: record },
      problems: { 404: 'There is none' },
    },
  }) as const;

const units = records('units', Unit, NewUnit, doc('SentUnit', sent(UnitSchema)));
const rigs = records('rigs', Rig, NewRig, doc('SentRig', sent(RigSchema)));
const monitors = records('monitors', Monitor, NewMonitor, doc('SentMonitor', sent(MonitorSchema)));

/** Every route but the calculations, which have a registry of their own (`operations.ts`). */
export const routes = {
  health: {
    method: 'get',
    path: '/health',
    summary: 'Is the server there, can it store, how busy is it?',
    answers: { 200: Health },
  },
  openApi: { method: 'get', path: '/openapi.json', summary: 'This description', answers: { 200: Type.Object({}) } },
  rigSchema: {
    method: 'get',
    path: '/schema/rig.json',
    summary: 'JSON Schema of an exported rig',
    answers: { 200: { media: ['application/schema+json'] } },
  },

  'units.list': units.list,
  'units.create': units.create,
  'units.read': units.read,
  'units.replace': units.replace,
  'units.remove': units.remove,
  'units.restore': units.restore,
  // Before the rigs by their id: `import` is none.
  'rigs.previewImport': {
    method: 'post',
    path: '/rigs/import/preview',
    summary: 'What an import of a rig would do',
    body: RigExport,
    bodyLimit: 60 * MB,
    answers: { 200: ImportPreview },
  },
  'rigs.import': {
    method: 'post',
    path: '/rigs/import',
    summary: 'Import an exported rig',
    query: Type.Object({ sensors: Type.Optional(Type.Literal('free')) }, strict),
    body: RigExport,
    bodyLimit: 60 * MB,
    answers: { 201: Rig },
  },
  'rigs.list': rigs.list,
  'rigs.create': rigs.create,
  'rigs.read': rigs.read,
  'rigs.replace': rigs.replace,
  'rigs.remove': rigs.remove,
  'rigs.restore': rigs.restore,
  'monitors.list': monitors.list,
  'monitors.create': monitors.create,
  'monitors.read': monitors.read,
  'monitors.replace': monitors.replace,
  'monitors.remove': monitors.remove,
  'monitors.restore': monitors.restore,
  change: {
    method: 'post',
    path: '/changes',
    summary: 'Several changes of documents that belong together: all of them or none',
    body: doc('ChangesRequest', ChangesRequest),
    answers: { 200: ChangesAnswer },
    problems: { 404: 'There is none', 409: 'One was changed in the meantime, or is still in use' },
  },
  'rig.export': {
    method: 'get',
    path: '/rigs/{rig}/export',
    summary: 'A rig with its units, monitor and photos as one document',
    answers: { 200: RigExport },
    problems: NoRig,
  },

  ingest: {
    method: 'post',
    path: '/readings',
    summary: 'Readings: NDJSON, streamed, or a JSON array; up to 25 MB',
    query: Type.Object({ history: Type.Optional(Flag) }, strict),
    rawBody: { media: ['application/x-ndjson', 'application/json'] },
    answers: { 200: IngestAnswer },
    problems: { 413: 'More than 25 MB', 415: 'Another media type' },
  },
  readings: {
    method: 'get',
    path: '/rigs/{rig}/readings',
    summary: 'Readings of a rig; without from and to those of its last day',
    query: Type.Object(
      {
        from: Type.Optional(Time),
        to: Type.Optional(Time),
        position: Type.Optional(Type.String()),
        /** Seconds. */
        step: Type.Optional(Type.Number({ minimum: 1, maximum: 86_400 * 31 })),
      },
      strict,
    ),
    answers: { 200: ReadingsAnswer },
    problems: NoRig,
  },
  hotRun: {
    method: 'get',
    path: '/rigs/{rig}/hot-run',
    summary: 'What an ordinary run adds to the cold pressure, learned axle by axle from the last two months of readings',
    answers: { 200: Type.Object({ axles: Type.Record(Type.String(), LearnedRise) }, strict) },
    problems: NoRig,
  },
  span: {
    method: 'get',
    path: '/rigs/{rig}/span',
    summary: 'First and last reading of a rig',
    answers: { 200: Span },
    problems: NoRig,
  },
  chart: {
    method: 'get',
    path: '/rigs/{rig}/chart',
    summary: 'Lowest, highest and last of each step between two times',
    query: Type.Object(
      {
        from: Time,
        to: Time,
        /** Positions with commas between them; all when left out. */
        positions: Type.Optional(Type.String()),
        points: Type.Optional(Type.Integer({ minimum: 10, maximum: 4000 })),
      },
      strict,
    ),
    answers: { 200: ChartAnswer },
    problems: NoRig,
  },
  replay: {
    method: 'post',
    path: '/rigs/{rig}/replay',
    summary: 'Run a stretch of history through the watch again, with the limits of today or others',
    body: ReplayRequest,
    answers: { 200: ReplayAnswer },
    problems: NoRig,
  },
  importReadings: {
    method: 'post',
    path: '/rigs/{rig}/import-readings',
    summary: 'Import a file of readings; what was read before a cancel is kept',
    query: Type.Object(
      {
        /** How to read the file, as JSON (`ColumnMapping`). */
        mapping: Type.String(),
        /** Name of the job in the `import` events of the live stream. */
        job: Type.Optional(Type.String({ maxLength: 64 })),
        /** By this the mapping is found again for a file of the same make. */
        shape: Type.Optional(Type.String({ maxLength: 2000 })),
      },
      strict,
    ),
    rawBody: { media: ['application/octet-stream', 'text/csv', 'application/x-ndjson', 'text/plain'] },
    answers: { 200: ImportAnswer },
    problems: NoRig,
  },
  fileShape: {
    method: 'get',
    path: '/file-shapes',
    summary: 'How a file of the same make was read before',
    query: Type.Object({ shape: Type.String() }, strict),
    answers: { 200: Type.Object({ mapping: Type.Union([doc('ColumnMapping', ColumnMappingSchema), Type.Null()]) }, strict) },
  },
  exportReadings: {
    method: 'get',
    path: '/rigs/{rig}/export-readings',
    summary: 'All readings of a rig as a file',
    query: Type.Object({ format: FileFormat, from: Type.Optional(Time), to: Type.Optional(Time) }, strict),
    answers: { 200: { media: ['text/csv', 'application/x-ndjson'] } },
    problems: NoRig,
  },
  exportAlarms: {
    method: 'get',
    path: '/rigs/{rig}/export-alarms',
    summary: 'All alarms of a rig as a file',
    query: Type.Object({ format: FileFormat }, strict),
    answers: { 200: { media: ['text/csv', 'application/x-ndjson'] } },
    problems: NoRig,
  },

  watch: {
    method: 'get',
    path: '/rigs/{rig}/watch',
    summary: 'Every wheel of a rig as it is known now',
    answers: { 200: WatchView },
    problems: NoRig,
  },
  live: {
    method: 'get',
    path: '/rigs/{rig}/live',
    summary:
      'Stream of events: reading, wheel, alarm, bench, rig, import; again: events since the last id are gone, ask for everything',
    query: Type.Object({ last: LastId }, strict),
    answers: { 200: { media: ['text/event-stream'] } },
    problems: NoRig,
  },
  liveRigs: {
    method: 'get',
    path: '/live',
    summary: 'The same stream for several rigs: the data of each event are {rig, data}',
    query: Type.Object(
      {
        /** Ids with commas between them; those that are no rig are passed over. */
        rigs: Type.String({ minLength: 1, maxLength: 20_000 }),
        last: LastId,
      },
      strict,
    ),
    answers: { 200: { media: ['text/event-stream'] } },
    problems: NoRig,
  },
  alarms: {
    method: 'get',
    path: '/rigs/{rig}/alarms',
    summary: 'Alarms that were raised, the open ones first',
    query: Type.Object(
      {
        active: Type.Optional(Type.Union([Type.Literal('true'), Type.Literal('false')])),
        limit: Type.Optional(Type.Integer({ minimum: 1, maximum: 5000 })),
        from: Type.Optional(Time),
        to: Type.Optional(Time),
      },
      strict,
    ),
    answers: { 200: Type.Array(Alarm) },
    problems: NoRig,
  },
  acknowledge: {
    method: 'post',
    path: '/rigs/{rig}/alarms/{alarm}/acknowledge',
    summary: 'Acknowledge an alarm; twice changes nothing',
    answers: { 200: Alarm },
    problems: { 404: 'There is no such rig or alarm' },
  },
  shelve: {
    method: 'post',
    path: '/rigs/{rig}/alarms/{alarm}/shelve',
    summary: 'Shelve one alarm: no sound from it for a time; 0 minutes ends it',
    body: ShelveRequest,
    answers: { 200: Alarm },
    problems: { 404: 'There is no such rig or alarm', 409: 'The alarm is over' },
  },
  shelves: {
    method: 'get',
    path: '/rigs/{rig}/shelves',
    summary: 'Alarms that were shelved, the latest first',
    answers: { 200: Type.Array(Shelf) },
    problems: NoRig,
  },
  silence: {
    method: 'post',
    path: '/rigs/{rig}/silence',
    summary: 'Silence the sound of a rig for a time; 0 minutes ends it',
    body: SilenceRequest,
    answers: { 200: WatchView },
    problems: NoRig,
  },
  rest: {
    method: 'post',
    path: '/rigs/{rig}/rest',
    summary: 'Disconnect a unit, or connect it again',
    body: RestRequest,
    answers: { 200: WatchView },
    problems: NoRig,
  },
  topUp: {
    method: 'post',
    path: '/rigs/{rig}/top-up',
    summary: 'Start filling some wheels; none ends it',
    body: TopUpRequest,
    answers: { 200: WatchView },
    problems: NoRig,
  },
  track: {
    method: 'post',
    path: '/rigs/{rig}/track',
    summary: 'Begin or end a track day: losses by hand and wheels that differ don’t alarm meanwhile',
    body: TrackRequest,
    answers: { 200: WatchView },
    problems: NoRig,
  },
  answer: {
    method: 'post',
    path: '/rigs/{rig}/answer',
    summary: 'A sensor is off or on its valve, or a pressure was set on purpose',
    body: AnswerRequest,
    answers: { 200: WatchView },
    problems: NoRig,
  },
  repeater: {
    method: 'post',
    path: '/rigs/{rig}/repeater',
    summary: 'Voltage of the repeater’s supply',
    body: RepeaterRequest,
    answers: { 200: WatchView },
    problems: NoRig,
  },
  typed: {
    method: 'post',
    path: '/rigs/{rig}/typed',
    summary: 'Figures read off a monitor',
    body: TypedRound,
    answers: { 200: TypedAnswer },
    problems: { ...NoRig, 409: 'The bench drives this rig' },
  },
  bench: {
    method: 'get',
    path: '/rigs/{rig}/bench',
    summary: 'The bench of a rig',
    answers: { 200: BenchView },
    problems: NoRig,
  },
  benchCommand: {
    method: 'post',
    path: '/rigs/{rig}/bench',
    summary: 'Operate the bench',
    body: BenchCommand,
    answers: { 200: BenchAnswer },
    problems: { ...NoRig, 409: 'The bench is closed' },
  },

  report: {
    method: 'get',
    path: '/rigs/{rig}/report',
    summary: 'The commissioning report as of now',
    answers: { 200: Report },
    problems: NoRig,
  },
  reports: {
    method: 'get',
    path: '/rigs/{rig}/reports',
    summary: 'Dated versions of the report',
    answers: { 200: Type.Array(ReportVersion) },
    problems: NoRig,
  },
  keepReport: {
    method: 'post',
    path: '/rigs/{rig}/reports',
    summary: 'Keep a dated version; one that says the same as the last is not kept twice',
    answers: { 201: ReportVersion, 200: ReportVersion },
    problems: NoRig,
  },
  due: {
    method: 'get',
    path: '/rigs/{rig}/due',
    summary: 'What is due on a rig, the first first',
    answers: { 200: Type.Array(DueEntry) },
    problems: NoRig,
  },
  events: {
    method: 'get',
    path: '/rigs/{rig}/events',
    summary: 'What the app wrote down by itself, the latest first: changed settings, sets of wheels, typed rounds, drives',
    query: Type.Object({ from: Type.Optional(Time) }, strict),
    answers: { 200: Type.Array(LogEvent) },
    problems: NoRig,
  },
  calendar: {
    method: 'get',
    path: '/rigs/{rig}/calendar.ics',
    summary: 'The same as a calendar to subscribe to (RFC 5545)',
    answers: { 200: { media: ['text/calendar'] } },
    problems: NoRig,
  },
  addPhoto: {
    method: 'post',
    path: '/photos',
    summary: 'Add a photo: JPEG, PNG or WebP up to 25 MB. It is encoded again, so nothing else that the file carried is kept',
    rawBody: { media: ['image/jpeg', 'image/png', 'image/webp', 'application/octet-stream'] },
    answers: { 201: Type.Object({ id: Id, bytes: Type.Integer() }, strict) },
    problems: { 413: 'More than 25 MB', 415: 'Not an image' },
  },
  photo: {
    method: 'get',
    path: '/photos/{id}',
    summary: 'A photo',
    answers: { 200: { media: ['image/jpeg'] } },
    problems: { 404: 'There is no such photo' },
  },
  removePhoto: {
    method: 'delete',
    path: '/photos/{id}',
    summary: 'Delete a photo',
    answers: { 204: null },
    problems: { 404: 'There is no such photo' },
  },

  versions: {
    method: 'get',
    path: '/versions/{kind}/{id}',
    summary: 'What was changed of a unit, rig or monitor, the latest first',
    answers: { 200: Type.Array(PastVersion) },
    problems: { 404: 'There is no such kind' },
  },
  version: {
    method: 'get',
    path: '/versions/{kind}/{id}/{number}',
    summary: 'A document as it was in that version',
    answers: { 200: Type.Object({}) },
    problems: { 404: 'That version isn’t kept' },
  },
  putBack: {
    method: 'post',
    path: '/versions/{kind}/{id}/{number}',
    summary: 'Put a past version in the place of the document, as a new version of it',
    answers: { 200: Type.Object({}) },
    problems: { 404: 'That version isn’t kept' },
  },

  network: {
    method: 'get',
    path: '/network',
    summary: 'Whether the home network can reach this server',
    answers: { 200: NetworkView },
  },
  setNetwork: {
    method: 'put',
    path: '/network',
    summary: 'Let the home network reach this server, or not. Only from this machine',
    body: NetworkRequest,
    answers: { 200: NetworkView },
    problems: { 403: 'Only from this machine' },
  },
  me: { method: 'get', path: '/me', summary: 'Who is asking, and what it may do', answers: { 200: Me } },
  devices: { method: 'get', path: '/devices', summary: 'Devices that were paired', answers: { 200: Type.Array(Device) } },
  deviceCode: {
    method: 'post',
    path: '/devices/code',
    summary: 'Show a code that pairs one device within five minutes. Only from this machine',
    body: CodeRequest,
    answers: { 200: CodeAnswer },
    problems: { 403: 'Only from this machine' },
  },
  pairDevice: {
    method: 'post',
    path: '/devices/pair',
    summary: 'Pair the device that sends this, by the code on the screen',
    body: PairRequest,
    answers: { 200: PairAnswer },
    problems: { 403: 'The code is wrong or too old', 429: 'Too many wrong codes' },
  },
  renameDevice: {
    method: 'put',
    path: '/devices/{id}',
    summary: 'Give a device another name',
    body: Type.Object({ name: Name }, strict),
    answers: { 200: Device },
    problems: { 404: 'There is no such device' },
  },
  revokeDevice: {
    method: 'delete',
    path: '/devices/{id}',
    summary: 'Take a device’s access away, at once',
    answers: { 204: null },
    problems: { 404: 'There is no such device' },
  },
  gateway: {
    method: 'get',
    path: '/gateway',
    summary: 'Readings over MQTT: settings, state, and sensors that were heard and that nobody knows',
    answers: { 200: GatewayView },
  },
  setGateway: {
    method: 'put',
    path: '/gateway',
    summary: 'Set the gateway up, connect or disconnect it',
    body: GatewaySettings,
    answers: { 200: GatewayView },
  },
  renameGateway: {
    method: 'post',
    path: '/gateway/name',
    summary: 'Take a new name at the broker, where another server has the same one',
    answers: { 200: GatewayView },
    problems: { 404: 'Readings over MQTT aren’t set up' },
  },

  backups: {
    method: 'get',
    path: '/backups',
    summary: 'Backups in the data folder, the newest first',
    answers: { 200: BackupList },
  },
  makeBackup: {
    method: 'post',
    path: '/backups',
    summary: 'Back up database and photos now',
    answers: { 201: BackupEntry },
    problems: { 507: 'The disk has no room for it' },
  },
  backup: {
    method: 'get',
    path: '/backups/{name}',
    summary: 'A backup as a file: tar, gzipped, with a manifest of hashes',
    answers: { 200: { media: ['application/gzip'] } },
    problems: { 404: 'There is no such backup' },
  },
  stageBackup: {
    method: 'post',
    path: '/restore',
    summary: 'Send a backup, have it checked, and see what is in it. Nothing is replaced yet',
    query: Type.Object({ name: Type.Optional(Type.String({ maxLength: 100 })) }, strict),
    rawBody: { media: ['application/gzip', 'application/octet-stream'] },
    answers: { 200: RestorePreview },
    problems: { 404: 'There is no such backup', 409: 'Another one is being checked', 507: 'The disk has no room for it' },
  },
  restore: {
    method: 'post',
    path: '/restore/{token}',
    summary: 'Put the world of the backup that was previewed in the place of the one here, which is kept aside',
    answers: { 200: Restored },
    problems: { 404: 'Nothing was previewed under this token' },
  },
} as const satisfies Record<string, RouteDescription>;

export type Routes = typeof routes;
export type RouteName = keyof Routes;

/** Names of the parameters in a path. */
export type ParamsOf<P extends string> = P extends `${string}{${infer Name}}${infer Rest}` ? Name | ParamsOf<Rest> : never;
export type Params<N extends RouteName> = Record<ParamsOf<Routes[N]['path']>, string>;
export type Query<N extends RouteName> = Routes[N] extends { query: infer Q extends TSchema } ? Static<Q> : Static<typeof Empty>;
export type Body<N extends RouteName> = Routes[N] extends { body: infer B extends TSchema } ? Static<B> : undefined;
type AnswerOf<A> = A extends TSchema ? Static<A> : undefined;
/** The document of a success; undefined where there is none. */
export type Answer<N extends RouteName> = AnswerOf<Routes[N]['answers'][keyof Routes[N]['answers']]>;
