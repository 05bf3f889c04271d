// The server from source on port 4600 and Vite with hot reload in front of it, on a demo world of its own.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { installPackages, root } from './bootstrap.mjs';

installPackages();
const { build } = await import('./build.mjs');
await build();
const env = { ...process.env, DRUCKWERK_DATA: join(root, '.demo'), DRUCKWERK_WEB: join(root, 'dist/web'), PORT: '4600' };
const children = [
  spawn(process.execPath, ['--import', 'tsx', '--watch', 'demo/start.ts'], { cwd: root, env, stdio: 'inherit' }),
  spawn(process.execPath, ['node_modules/vite/bin/vite.js'], { cwd: root, stdio: 'inherit' }),
];
const stop = () => {
  for (const c of children) c.kill('SIGTERM');
};
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
