import { Alarm, AlarmEvidence, WatchView, WheelView } from './alarm.ts';
import { BenchAnswer, BenchCommand, BenchView } from './bench.ts';
import { ChangeStep } from './changes.ts';
import { RigExport } from './exchange.ts';
import { ColumnMappingSchema } from './files.ts';
import { ChartAnswer, ChartPoint, ImportAnswer } from './history.ts';
import { Monitor, NewMonitor } from './monitor.ts';
import { FieldProblem } from './problem.ts';
import { IngestAnswer, Reading } from './reading.ts';
import { Report, ReportVersion, ReportWheel } from './report.ts';
import { Axle, NewRig, NewUnit, Rig, Setting, Spare, Unit, Wheel } from './unit.ts';

/** Schemas that have a name in the OpenAPI file and in the JSON Schema of a rig. */
export const namedSchemas = {
  Alarm,
  AlarmEvidence,
  Axle,
  BenchAnswer,
  BenchCommand,
  BenchView,
  ChangeStep,
  ChartAnswer,
  ChartPoint,
  ColumnMapping: ColumnMappingSchema,
  FieldProblem,
  ImportAnswer,
  IngestAnswer,
  Monitor,
  NewMonitor,
  NewRig,
  NewUnit,
  Reading,
  Report,
  ReportVersion,
  ReportWheel,
  Rig,
  RigExport,
  Setting,
  Spare,
  Unit,
  WatchView,
  Wheel,
  WheelView,
};
