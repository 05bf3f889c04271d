type Env = Readonly<Record<string, string | undefined>>;

export declare function cacheFolder(env?: Env, platform?: string): string;
export declare function buildName(
  lockfile: string,
  flags: readonly string[],
  versions?: { modules?: string },
  platform?: string,
  arch?: string,
): string;
export declare function takeDriver(folder: string, name: string, to: string): boolean;
export declare function keepDriver(folder: string, name: string, from: string): void;
export declare function forgetDriver(folder: string, name: string): void;
