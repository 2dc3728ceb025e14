// No circle of files in any package, types counted: whoever reads one file must not have to read it to understand another that it reads.
// No circle of folders either: the parts of each package stand on one another in one direction.
/** @type {import('dependency-cruiser').IConfiguration} */
module.exports = {
  forbidden: [
    { name: 'no-circles-of-files', comment: 'Move what both need to a file of its own.', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'no-circles-of-folders',
      comment: 'Move what both need to a folder of its own.',
      severity: 'error',
      scope: 'folder',
      from: { path: '^(core|contract|networks|rtmp|server|web)/src' },
      to: { circular: true },
    },
    {
      name: 'rows-behind-their-own-door',
      comment: 'Rows are read and written in the part that owns them. Others ask what it offers, and know no more of a row than its type.',
      severity: 'error',
      // The demo makes a past that nobody can live through, and the database lists all tables.
      from: { path: '^server/src/([^/]+)/', pathNot: '^server/src/(database|demo|test)/' },
      to: { path: '^server/src/[^/]+/.*[.]entities[.]ts$', pathNot: '^server/src/$1/', dependencyTypesNot: ['type-only'] },
    },
  ],
  options: {
    doNotFollow: { path: ['node_modules', 'dist'] },
    exclude: { path: ['node_modules', '/dist/', '\\.d\\.ts$', '\\.test\\.ts$'] },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.mjs', '.js'] },
  },
};
