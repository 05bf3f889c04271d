import type { Knex } from 'knex';

const DAY_MS = 86_400_000;

/** Migrations as static imports, so that they are the same from source and from the bundle. Append only. */
const migrations: Record<string, Knex.Migration> = {
  '001-foundations': {
    async up(db) {
      for (const table of ['units', 'rigs', 'monitors']) {
        await db.schema.createTable(table, (t) => {
          t.text('id').primary();
          t.integer('version').notNullable();
          t.text('doc').notNullable();
          t.text('created_at').notNullable();
          t.text('updated_at').notNullable();
          t.text('deleted_at');
        });
      }
      // One sensor is on one wheel, whichever units there are.
      await db.schema.createTable('sensor_places', (t) => {
        t.text('sensor_id').primary();
        t.text('unit_id').notNullable().references('units.id').onDelete('CASCADE');
        t.text('position').notNullable();
      });
      // Event time as integer milliseconds: the key is compact and sorts by itself.
      await db.raw(`create table readings (
        sensor_id text not null, time_ms integer not null, pressure_kpa real not null, temp_c real not null,
        battery_v real, rssi_dbm real, source text not null,
        primary key (sensor_id, time_ms)) without rowid, strict`);
      await db.raw(`create table wheel_memory (
        rig_id text not null references rigs(id) on delete cascade, position text not null, sensor_id text not null,
        memory text not null, primary key (rig_id, position)) without rowid, strict`);
      await db.raw(`create table rig_states (
        rig_id text primary key references rigs(id) on delete cascade, busy_since_ms integer, silenced_until text) strict`);
      await db.raw(`create table alarms (
        id text primary key, rig_id text not null references rigs(id) on delete cascade, position text not null,
        sensor_id text not null, kind text not null, severity text not null, from_ms integer not null, to_ms integer,
        acknowledged_at text, limit_value real not null, value real not null, worst real not null,
        practice integer not null) strict`);
      await db.raw('create index alarms_by_rig on alarms (rig_id, from_ms)');
      await db.raw('create unique index alarms_active on alarms (rig_id, position, kind) where to_ms is null');
      await db.raw(`create table benches (
        rig_id text primary key references rigs(id) on delete cascade, running integer not null, factor integer not null,
        state text not null) strict`);
    },
    async down(db) {
      for (const t of [
        'benches',
        'alarms',
        'rig_states',
        'wheel_memory',
        'readings',
        'sensor_places',
        'monitors',
        'rigs',
        'units',
      ]) {
        await db.schema.dropTable(t);
      }
    },
  },
  '002-reports': {
    async up(db) {
      await db.raw(`create table reports (
        id text primary key, rig_id text not null references rigs(id) on delete cascade, at text not null, hash text not null,
        doc text not null) strict`);
      await db.raw('create index reports_by_rig on reports (rig_id, at)');
    },
    async down(db) {
      await db.schema.dropTable('reports');
    },
  },
  '003-watch': {
    async up(db) {
      // A typed reading may come without a temperature.
      await db.raw(`create table readings_new (
        sensor_id text not null, time_ms integer not null, pressure_kpa real not null, temp_c real,
        battery_v real, rssi_dbm real, source text not null,
        primary key (sensor_id, time_ms)) without rowid, strict`);
      await db.raw('insert into readings_new select * from readings');
      await db.raw('drop table readings');
      await db.raw('alter table readings_new rename to readings');
      await db.raw('alter table alarms add column evidence text');
      // A late reading has shown that it was none.
      await db.raw('alter table alarms add column withdrawn integer not null default 0');
      // How bad it was when it was acknowledged: grown worse, it rings again.
      await db.raw('alter table alarms add column acknowledged_worst real');
      await db.raw('alter table rig_states add column state text');
      await db.raw("alter table rig_states add column resting text not null default '[]'");
      await db.raw(`create table rollups (
        sensor_id text not null, step_s integer not null, time_ms integer not null, count integer not null,
        low_kpa real not null, high_kpa real not null, last_kpa real not null,
        low_c real, high_c real, last_c real, last_ms integer not null,
        primary key (sensor_id, step_s, time_ms)) without rowid, strict`);
      // Days of a sensor whose rollups are not in line with its readings yet.
      await db.raw(
        'create table rollup_days (sensor_id text not null, day integer not null, primary key (sensor_id, day)) without rowid, strict',
      );
      await db.raw('insert into rollup_days select distinct sensor_id, time_ms / 86400000 from readings');
      await db.raw('create table file_shapes (shape text primary key, mapping text not null, used_at text not null) strict');
    },
    async down(db) {
      for (const t of ['file_shapes', 'rollup_days', 'rollups']) await db.schema.dropTable(t);
      for (const column of ['state', 'resting']) await db.raw(`alter table rig_states drop column ${column}`);
      for (const column of ['evidence', 'withdrawn', 'acknowledged_worst'])
        await db.raw(`alter table alarms drop column ${column}`);
      await db.raw(`create table readings_old (
        sensor_id text not null, time_ms integer not null, pressure_kpa real not null, temp_c real not null,
        battery_v real, rssi_dbm real, source text not null,
        primary key (sensor_id, time_ms)) without rowid, strict`);
      await db.raw('insert into readings_old select * from readings where temp_c is not null');
      await db.raw('drop table readings');
      await db.raw('alter table readings_old rename to readings');
    },
  },
  '004-footing': {
    async up(db) {
      // An older state of the watch, from which late readings are put in their place after a stop too.
      await db.raw('alter table rig_states add column footing text');
    },
    async down(db) {
      await db.raw('alter table rig_states drop column footing');
    },
  },
  '005-clock': {
    async up(db) {
      await db.raw('alter table rig_states rename column footing to checkpoint');
      // A silence ends by its duration, also when the clock has been set back since.
      await db.raw('alter table rig_states add column silenced_minutes real');
      // Readings dated ahead of the clock: kept, but apart from all that is judged, charted or learned from.
      await db.raw(`create table readings_ahead (
        sensor_id text not null, time_ms integer not null, pressure_kpa real not null, temp_c real,
        battery_v real, rssi_dbm real, source text not null,
        primary key (sensor_id, time_ms)) without rowid, strict`);
    },
    async down(db) {
      await db.raw('drop table readings_ahead');
      await db.raw('alter table rig_states drop column silenced_minutes');
      await db.raw('alter table rig_states rename column checkpoint to footing');
    },
  },
  '006-priority': {
    async up(db) {
      // Alarms have one of three priorities: stop, look, note.
      await db('alarms').where({ severity: 'know' }).update({ severity: 'note' });
    },
    async down(db) {
      await db('alarms').where({ severity: 'note' }).update({ severity: 'know' });
    },
  },
  '007-shelves': {
    async up(db) {
      // One alarm is silent for a time: from when until when (the rig's clock), and how bad it was.
      await db.raw('alter table alarms add column shelved_from_ms integer');
      await db.raw('alter table alarms add column shelved_until_ms integer');
      await db.raw('alter table alarms add column shelved_worst real');
      // What was shelved, by whom it ended: the owner, the time, the alarm that got worse, or its cause that was gone.
      await db.raw(`create table shelves (
        id integer primary key, alarm_id text not null, rig_id text not null, position text not null, kind text not null,
        from_ms integer not null, until_ms integer not null, ended_ms integer, ended_by text) strict`);
      await db.raw('create index shelves_rig on shelves (rig_id, from_ms)');
    },
    async down(db) {
      await db.schema.dropTable('shelves');
      for (const column of ['shelved_from_ms', 'shelved_until_ms', 'shelved_worst'])
        await db.raw(`alter table alarms drop column ${column}`);
    },
  },
  '008-events': {
    async up(db) {
      // What the app writes down by itself: settings that were changed, sets of wheels, rounds read off the monitor.
      await db.raw(`create table events (
        id integer primary key, rig_id text, unit_id text, at_ms integer not null, kind text not null, data text not null) strict`);
      await db.raw('create index events_at on events (at_ms)');
    },
    async down(db) {
      await db.schema.dropTable('events');
    },
  },
  '009-meta': {
    async up(db) {
      // What the file says about itself.
      await db.raw('create table meta (name text primary key, value text not null) strict');
      // Devices of the home network. A token is kept as its hash.
      await db.raw(`create table devices (
        id text primary key, name text not null, role text not null, token_hash text not null unique, made_at text not null,
        seen_at text) strict`);
      // Past versions of the documents, when each was made and by which device; null: this machine.
      await db.raw(`create table versions (
        seq integer primary key, kind text not null, id text not null, version integer not null, at text not null, device text,
        what text not null, diff text not null, doc text not null) strict`);
      await db.raw('create index versions_of on versions (kind, id, seq)');
    },
    async down(db) {
      for (const t of ['versions', 'devices', 'meta']) await db.schema.dropTable(t);
    },
  },
  '010-days-in-no-rig': {
    async up(db) {
      // Readings of a unit that was in no rig came into no rollup: those days are made again. From day to day by the key: grouping millions of
      // readings takes ten times as long.
      const dayOf = `(ms - ((ms % ${DAY_MS}) + ${DAY_MS}) % ${DAY_MS}) / ${DAY_MS}`;
      await db.raw(`insert or ignore into rollup_days
        with recursive
          sensors(id) as (
            select min(sensor_id) from readings
            union all select (select min(sensor_id) from readings where sensor_id > id) from sensors where id is not null),
          firsts(id, ms) as (
            select id, (select min(time_ms) from readings where sensor_id = id) from sensors where id is not null
            union all
            select id, (select min(time_ms) from readings where sensor_id = id and time_ms >= (${dayOf} + 1) * ${DAY_MS})
            from firsts where ms is not null),
          days(id, day, since, until) as (
            select id, ${dayOf}, ${dayOf} * ${DAY_MS}, (${dayOf} + 1) * ${DAY_MS} from firsts where ms is not null)
        select id, day from days
        where (select count(*) from readings where sensor_id = id and time_ms >= since and time_ms < until) is not
          (select sum(count) from rollups where sensor_id = id and step_s = 3600 and time_ms >= since and time_ms < until)`);
    },
    async down() {
      // Marked days are only made again.
    },
  },
};

/** Names of all migrations, the oldest first. */
export const migrationNames: readonly string[] = Object.keys(migrations);

export const migrationSource: Knex.MigrationSource<string> = {
  getMigrations: async () => Object.keys(migrations),
  getMigrationName: (name) => name,
  getMigration: async (name) => migrations[name] as Knex.Migration,
};
