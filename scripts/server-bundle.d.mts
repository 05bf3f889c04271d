import type { BuildOptions } from 'esbuild';

export declare const serverBundle: BuildOptions;
export declare const asFunction: BuildOptions;
