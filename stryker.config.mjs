import { join } from 'node:path';

// See scripts/mutate.mjs: changes core one operator or constant at a time and sees whether a test notices.
export default {
  testRunner: 'vitest',
  vitest: { configFile: 'vitest.mutate.config.ts', related: false },
  plugins: [join(import.meta.dirname, 'scripts/mutation/node_modules/@stryker-mutator/vitest-runner/dist/src/index.js')],
  mutate: ['core/**/*.ts', '!core/**/*.test.ts', '!core/**/*.reference.test.ts', '!core/**/*.test-data.ts'],
  // Words and codes are compared by the tests of the pages; a changed text is no changed figure.
  mutator: { excludedMutations: ['StringLiteral'] },
  coverageAnalysis: 'perTest',
  // A constant that is read once when its file is loaded would need every test again: those tables are held by tests of their own.
  ignoreStatic: true,
  concurrency: 2,
  timeoutMS: 20_000,
  ignorePatterns: ['dist', '.demo', '.tsbuild', 'docs', 'reports'],
  reporters: ['json'],
  jsonReporter: { fileName: 'reports/mutation.json' },
  tempDirName: 'reports/sandbox',
  checkers: [],
  // The compiler here has no JavaScript interface to rewrite a tsconfig with; the tests need none.
  tsconfigFile: 'none.json',
  disableTypeChecks: false,
};
