import { readFileSync } from 'node:fs';
import { calc } from './calc.ts';

const { exit, out, err } = calc(process.argv.slice(2), () => readFileSync(0, 'utf8'));
if (out) process.stdout.write(`${out}\n`);
if (err) process.stderr.write(`${err}\n`);
process.exitCode = exit;
