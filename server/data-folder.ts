import { homedir } from 'node:os';
import { join } from 'node:path';

/** Where the owner's data lies unless `DRUCKWERK_DATA` says otherwise: a folder in the user's data directory. */
export function defaultDataFolder(env: NodeJS.ProcessEnv = process.env, platform: NodeJS.Platform = process.platform): string {
  if (env.DRUCKWERK_DATA) return env.DRUCKWERK_DATA;
  if (platform === 'win32') return join(env.LOCALAPPDATA ?? join(homedir(), 'AppData', 'Local'), 'Druckwerk');
  if (platform === 'darwin') return join(homedir(), 'Library', 'Application Support', 'Druckwerk');
  return join(env.XDG_DATA_HOME ?? join(homedir(), '.local', 'share'), 'druckwerk');
}
