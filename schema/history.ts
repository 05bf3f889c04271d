/** What a stretch of readings came to. Temperatures are null when none was told. */
export interface ChartPoint {
  /** Begin of the stretch, ms since the epoch. */
  ms: number;
  count: number;
  lowKpa: number;
  highKpa: number;
  lastKpa: number;
  lowC: number | null;
  highC: number | null;
  lastC: number | null;
  /** Time of the last reading in it. */
  lastMs: number;
}

/** A chart, as the server gathers it: step in seconds, 0 where every reading is a point. */
export interface ChartAnswer {
  from: string;
  to: string;
  stepS: number;
  series: { position: string; sensorId: string; points: ChartPoint[] }[];
}

/** How an import of a file stands. */
export interface ImportAnswer {
  bytes: number;
  lines: number;
  accepted: number;
  repeated: number;
  /** Lines of wheels that were to be passed over. */
  passedOver: number;
  /** Lines that could not be taken; the first thousand are named. */
  refusedCount: number;
  refused: { line: number; column: string; detail: string }[];
  /** Event time of the first and last reading taken. */
  from: string | null;
  to: string | null;
  cancelled: boolean;
}
