/**
 * Input that the arithmetic cannot take. It names the field, so that the answer can be put beside it.
 */
export class FieldError extends Error {
  override readonly name = 'FieldError';
  /** RFC 6901 pointer to the field, such as `/tempC`. */
  readonly pointer: string;

  constructor(pointer: string, detail: string) {
    super(detail);
    this.pointer = pointer;
  }
}
