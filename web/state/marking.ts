import { FieldError } from '#core/errors.ts';
import { readMarking, type TireMarking } from '#core/tire/marking.ts';

/** What a marking says, or why it says nothing. */
export function tryMarking(text: string): TireMarking | string {
  try {
    return readMarking(text);
  } catch (error) {
    if (error instanceof FieldError) return error.message;
    throw error;
  }
}
