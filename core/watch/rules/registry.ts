import { apart } from './apart.ts';
import { cell } from './cell.ts';
import { limits } from './limits.ts';
import { loss } from './loss.ts';
import type { Rule } from './rule.ts';
import { silence } from './silence.ts';
import { stuck } from './stuck.ts';

/** All rules of the watch, in the order they judge a reading. A new rule is one file here and one line. */
export const RULES: readonly Rule[] = [loss, limits, apart, silence, stuck, cell];
