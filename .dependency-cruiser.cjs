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
      from: { path: '^(core|contract|networks|server|web)/src' },
      to: { circular: true },
    },
  ],
  options: {
    doNotFollow: { path: ['node_modules', 'dist'] },
    exclude: { path: ['node_modules', '/dist/', '\\.d\\.ts$', '\\.test\\.ts$'] },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.mjs', '.js'] },
  },
};
