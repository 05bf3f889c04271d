import type { TSchema } from '@sinclair/typebox';
import {
  Alarm,
  AnswerRequest,
  RepeaterRequest,
  ReplayRequest,
  RestRequest,
  SilenceRequest,
  TopUpRequest,
  TypedRound,
  WatchView,
} from '#schema/alarm.ts';
import { BenchCommand, BenchView } from '#schema/bench.ts';
import { RigExport } from '#schema/exchange.ts';
import { ColumnMappingSchema } from '#schema/files.ts';
import { Monitor, NewMonitor } from '#schema/monitor.ts';
import { operationSchemas } from '#schema/operations.ts';
import { IngestAnswer, Reading } from '#schema/reading.ts';
import { NewRig, NewUnit, Rig, Unit } from '#schema/unit.ts';

const json = (schema: unknown) => ({ 'application/json': { schema } });
const ok = (schema: unknown, description = 'The answer') => ({ description, content: json(schema) });
const ref = (name: string) => ({ $ref: `#/components/schemas/${name}` });
const problem = (description: string) => ({ description, content: { 'application/problem+json': { schema: ref('Problem') } } });
const pathParam = (name: string) => ({ name, in: 'path', required: true, schema: { type: 'string' } });
const queryParam = (name: string, schema: object, description: string) => ({ name, in: 'query', schema, description });
const body = (schema: unknown) => ({ required: true, content: json(schema) });

/** Routes of one kind of stored document. */
function recordPaths(noun: string, doc: string, fresh: string): Record<string, unknown> {
  return {
    [`/api/${noun}`]: {
      get: { summary: `All ${noun}`, responses: { 200: ok({ type: 'array', items: ref(doc) }) } },
      post: {
        summary: `Make one of the ${noun}`,
        requestBody: body(ref(fresh)),
        responses: { 201: ok(ref(doc)), 400: problem('Bad input') },
      },
    },
    [`/api/${noun}/{id}`]: {
      parameters: [pathParam('id')],
      get: { summary: `One of the ${noun}`, responses: { 200: ok(ref(doc)), 404: problem('There is none') } },
      put: {
        summary: 'Replace it; the document carries the version it was made from',
        requestBody: body(ref(doc)),
        responses: {
          200: ok(ref(doc)),
          400: problem('Bad input'),
          404: problem('There is none'),
          409: problem('Stale; carries both versions'),
        },
      },
      delete: {
        summary: 'Delete it; it can be restored',
        responses: { 204: { description: 'Done' }, 409: problem('Still in use') },
      },
    },
    [`/api/${noun}/{id}/restore`]: {
      parameters: [pathParam('id')],
      post: { summary: 'Take back a deletion', responses: { 200: ok(ref(doc)) } },
    },
  };
}

/** The OpenAPI 3.1 description of everything under `/api`, made from the same schemas that check the input. */
export function openApi(): Record<string, unknown> {
  const calculations = Object.fromEntries(
    Object.entries(operationSchemas).map(([name, o]) => [
      `/api/calc/${name}`,
      {
        post: {
          operationId: name,
          summary: o.summary,
          requestBody: body(o.input),
          responses: { 200: ok(o.output), 400: problem('Bad input') },
        },
      },
    ]),
  );
  const rig = pathParam('rig');
  const schemas: Record<string, TSchema | object> = {
    Unit,
    NewUnit,
    Rig,
    NewRig,
    Monitor,
    NewMonitor,
    Reading,
    IngestAnswer,
    Alarm,
    WatchView,
    BenchView,
    BenchCommand,
    RigExport,
    Problem: {
      type: 'object',
      required: ['type', 'title', 'status'],
      properties: {
        type: { type: 'string' },
        title: { type: 'string' },
        status: { type: 'integer' },
        detail: { type: 'string' },
        errors: {
          type: 'array',
          items: {
            type: 'object',
            required: ['pointer', 'detail'],
            properties: { pointer: { type: 'string' }, detail: { type: 'string' } },
          },
        },
      },
    },
  };
  return {
    openapi: '3.1.0',
    info: {
      title: 'Druckwerk',
      version: '1',
      description: 'Pressures are gauge pressures in kPa, temperatures in °C, times ISO 8601 in UTC. Unknown fields are refused.',
    },
    paths: {
      '/api/health': {
        get: { summary: 'Is it there?', responses: { 200: ok({ type: 'object', properties: { status: { const: 'ok' } } }) } },
      },
      ...calculations,
      ...recordPaths('units', 'Unit', 'NewUnit'),
      ...recordPaths('rigs', 'Rig', 'NewRig'),
      ...recordPaths('monitors', 'Monitor', 'NewMonitor'),
      '/api/readings': {
        post: {
          summary: 'Hand in readings; each is stored once for its sensor and time',
          parameters: [queryParam('history', { type: 'boolean' }, 'Take readings of any time')],
          requestBody: {
            required: true,
            content: { 'application/x-ndjson': { schema: ref('Reading') }, ...json({ type: 'array', items: ref('Reading') }) },
          },
          responses: { 200: ok(ref('IngestAnswer')), 400: problem('No line could be read'), 413: problem('Over 25 MB') },
        },
      },
      '/api/rigs/{rig}/readings': {
        parameters: [rig],
        get: {
          summary: 'Stored readings of the rig’s sensors, the last day unless told otherwise',
          parameters: [
            queryParam('from', { type: 'string', format: 'date-time' }, 'Begin'),
            queryParam('to', { type: 'string', format: 'date-time' }, 'End'),
            queryParam('position', { type: 'string' }, 'One wheel'),
            queryParam('step', { type: 'number', minimum: 1 }, 'Seconds to average over'),
          ],
          responses: { 200: ok({ type: 'object' }), 404: problem('There is no such rig') },
        },
      },
      '/api/rigs/{rig}/hot-run': {
        parameters: [rig],
        get: {
          summary: 'What an ordinary run adds to the cold pressure, learned from the rig’s own readings',
          responses: { 200: ok({ type: 'object' }), 404: problem('There is no such rig') },
        },
      },
      '/api/schema/rig.json': { get: { summary: 'JSON Schema of an exported rig', responses: { 200: ok({ type: 'object' }) } } },
      '/api/rigs/{rig}/export': {
        parameters: [rig],
        get: { summary: 'The rig with its units and monitor as one document', responses: { 200: ok(ref('RigExport')) } },
      },
      '/api/rigs/import/preview': {
        post: {
          summary: 'What an import would do',
          requestBody: body(ref('RigExport')),
          responses: { 200: ok({ type: 'object' }), 400: problem('Bad input') },
        },
      },
      '/api/rigs/import': {
        post: {
          summary: 'Make a rig, its units and its monitor from an exported document',
          parameters: [queryParam('sensors', { enum: ['free'] }, '`free`: leave out sensors that are on a wheel here already')],
          requestBody: body(ref('RigExport')),
          responses: { 201: ok(ref('Rig')), 400: problem('Bad input') },
        },
      },
      '/api/rigs/{rig}/watch': {
        parameters: [rig],
        get: { summary: 'Every wheel as it stands now', responses: { 200: ok(ref('WatchView')) } },
      },
      '/api/rigs/{rig}/rest': {
        parameters: [rig],
        post: {
          summary: 'Disconnect a unit, so that its wheels rest, or connect it again',
          requestBody: body(RestRequest),
          responses: { 200: ok(ref('WatchView')), 400: problem('There is no such unit') },
        },
      },
      '/api/rigs/{rig}/top-up': {
        parameters: [rig],
        post: {
          summary: 'Wheels are being filled: low and loss do not ring for them for 30 minutes; none named: it is over',
          requestBody: body(TopUpRequest),
          responses: { 200: ok(ref('WatchView')), 400: problem('A wheel without a sensor') },
        },
      },
      '/api/rigs/{rig}/answer': {
        parameters: [rig],
        post: {
          summary: 'The sensor of a wheel is off its valve, or on it, or its pressure was set on purpose',
          requestBody: body(AnswerRequest),
          responses: { 200: ok(ref('WatchView')) },
        },
      },
      '/api/rigs/{rig}/repeater': {
        parameters: [rig],
        post: {
          summary: 'What the repeater’s own supply is at, in volts',
          requestBody: body(RepeaterRequest),
          responses: { 200: ok(ref('WatchView')) },
        },
      },
      '/api/rigs/{rig}/typed': {
        parameters: [rig],
        post: {
          summary: 'Readings typed off a monitor, judged like any other',
          requestBody: body(TypedRound),
          responses: { 200: ok({ type: 'object' }), 400: problem('Bad input'), 409: problem('The bench drives the rig') },
        },
      },
      '/api/rigs/{rig}/span': {
        parameters: [rig],
        get: { summary: 'Time of the first and the last reading', responses: { 200: ok({ type: 'object' }) } },
      },
      '/api/rigs/{rig}/chart': {
        parameters: [rig],
        get: {
          summary: 'Readings gathered in steps: lowest, highest and last of each',
          parameters: [
            queryParam('from', { type: 'string', format: 'date-time' }, 'Begin'),
            queryParam('to', { type: 'string', format: 'date-time' }, 'End'),
            queryParam('positions', { type: 'string' }, 'Wheels, with commas between; all unless given'),
            queryParam('points', { type: 'integer', minimum: 10, maximum: 4000 }, 'About how many points a wheel'),
          ],
          responses: { 200: ok({ type: 'object' }), 400: problem('Bad input') },
        },
      },
      '/api/rigs/{rig}/replay': {
        parameters: [rig],
        post: {
          summary: 'A stretch of history through the watch again, with the limits of today or others; nothing of it is kept',
          requestBody: body(ReplayRequest),
          responses: { 200: ok({ type: 'object' }), 400: problem('Bad input') },
        },
      },
      '/api/rigs/{rig}/import-readings': {
        parameters: [rig],
        post: {
          summary:
            'Readings from a file of any size; the body is the file, streamed. Progress comes as `import` on the live stream',
          parameters: [
            {
              name: 'mapping',
              in: 'query',
              required: true,
              description: 'How it is to be read',
              content: json(ColumnMappingSchema),
            },
            queryParam('shape', { type: 'string' }, 'Under this the mapping is remembered'),
            queryParam('job', { type: 'string' }, 'Name of the import on the live stream'),
          ],
          requestBody: {
            required: true,
            content: { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } },
          },
          responses: { 200: ok({ type: 'object' }), 400: problem('The mapping is none') },
        },
      },
      '/api/rigs/{rig}/export-readings': {
        parameters: [rig],
        get: {
          summary: 'Every reading of the rig’s sensors as a file',
          parameters: [
            queryParam('format', { enum: ['csv', 'ndjson'] }, 'CSV unless told'),
            queryParam('from', { type: 'string', format: 'date-time' }, 'Begin'),
            queryParam('to', { type: 'string', format: 'date-time' }, 'End'),
          ],
          responses: { 200: { description: 'The file', content: { 'text/csv': { schema: { type: 'string' } } } } },
        },
      },
      '/api/rigs/{rig}/export-alarms': {
        parameters: [rig],
        get: {
          summary: 'Every alarm of the rig as a file',
          parameters: [queryParam('format', { enum: ['csv', 'ndjson'] }, 'CSV unless told')],
          responses: { 200: { description: 'The file', content: { 'text/csv': { schema: { type: 'string' } } } } },
        },
      },
      '/api/file-shapes': {
        get: {
          summary: 'How a file of that make was read before, or null',
          parameters: [queryParam('shape', { type: 'string' }, 'The make')],
          responses: { 200: ok({ type: 'object' }) },
        },
      },
      '/api/rigs/{rig}/silence': {
        parameters: [rig],
        post: {
          summary: 'Sound off for some minutes; 0: on',
          requestBody: body(SilenceRequest),
          responses: { 200: ok(ref('WatchView')) },
        },
      },
      '/api/rigs/{rig}/alarms': {
        parameters: [rig],
        get: {
          summary: 'Alarms raised: active ones first, then the latest',
          parameters: [
            queryParam('active', { type: 'boolean' }, 'Active ones only'),
            queryParam('limit', { type: 'integer' }, 'How many at the most'),
            queryParam('from', { type: 'string', format: 'date-time' }, 'Those that lasted after this'),
            queryParam('to', { type: 'string', format: 'date-time' }, 'Those that began before this'),
          ],
          responses: { 200: ok({ type: 'array', items: ref('Alarm') }) },
        },
      },
      '/api/rigs/{rig}/alarms/{alarm}/acknowledge': {
        parameters: [rig, pathParam('alarm')],
        post: { summary: 'Mark an alarm as seen', responses: { 200: ok(ref('Alarm')), 404: problem('There is no such alarm') } },
      },
      '/api/rigs/{rig}/live': {
        parameters: [rig],
        get: {
          summary: 'Server-sent events: reading, wheel, alarm, bench, rig, import, and here each 2.5 s',
          responses: { 200: { description: 'The stream', content: { 'text/event-stream': { schema: { type: 'string' } } } } },
        },
      },
      '/api/rigs/{rig}/bench': {
        parameters: [rig],
        get: { summary: 'The bench of this rig', responses: { 200: ok(ref('BenchView')) } },
        post: {
          summary: 'Do something at the bench',
          requestBody: body(ref('BenchCommand')),
          responses: { 200: ok({ type: 'object' }) },
        },
      },
    },
    components: { schemas },
  };
}
