/** One thing wrong with the input, at the field it is wrong at (RFC 6901 pointer, '' for the whole). */
export interface FieldProblem {
  pointer: string;
  detail: string;
}

/** A problem body after RFC 9457. */
export interface Problem {
  type: string;
  title: string;
  status: number;
  detail?: string;
  errors?: FieldProblem[];
  [extra: string]: unknown;
}
