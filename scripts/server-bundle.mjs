// How the server is put into one file: for `npm run build`, and for the tests that start it as it is shipped.

// Opening hundreds of small files took a third of a start, so what the server needs at once is inside. Outside stay what is compiled for the machine,
// what is loaded only when it is needed, and the drivers of other databases, which nobody has.
const OUTSIDE = /^(better-sqlite3|mariadb|mysql2?|oracledb|pg|pg-query-stream|sqlite3|tedious|supports-color)(\/|$)/;

/** Options of esbuild. */
export const serverBundle = {
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  logLevel: 'error',
  // A third less for Node to read at every start. Names stay, and lines, so that a stack says where it was.
  minifyWhitespace: true,
  minifySyntax: true,
  lineLimit: 160,
  plugins: [
    {
      name: 'packages-stay-outside',
      setup(b) {
        b.onResolve({ filter: /^[^./#]/ }, ({ path, kind }) =>
          kind === 'dynamic-import' || OUTSIDE.test(path) ? { path, external: true } : undefined,
        );
      },
    },
  ],
  // Packages that are CommonJS ask for Node's own modules by `require`.
  banner: { js: "import { createRequire as requireFrom } from 'node:module';\nconst require = requireFrom(import.meta.url);" },
};

/** Further options for a file that is one function of its module, `require`, `import`, address and folder, as `quick-start.mjs` calls it. */
export const asFunction = {
  format: 'cjs',
  define: { 'import.meta.url': '__url', 'import.meta.dirname': '__folder' },
  banner: { js: '(function (module, require, __import, __url, __folder) { var exports = module.exports;' },
  footer: { js: '})' },
};
