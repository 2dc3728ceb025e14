// Unit tests, compiled by SWC. Nothing here touches the network or the time of day.
/** @type {import('jest').Config} */
module.exports = {
  testEnvironment: 'node',
  // One for each core: much of the time is spent waiting for servers, media and files.
  maxWorkers: Math.min(4, require('node:os').availableParallelism()), // eslint-disable-line @typescript-eslint/no-require-imports -- read by Jest itself
  // Real servers, media and scrypt on a machine that others may share: slow is not wrong.
  testTimeout: 60_000,
  // Test files run in a context of their own, in which each mention of a global costs a hundred times as much: those of inner loops are handed in.
  sandboxInjectedGlobals: ['Math', 'Number', 'Array', 'Float32Array', 'Float64Array', 'Uint8Array'],
  roots: ['core', 'contract', 'rtmp', 'server', 'networks', 'web'].map((name) => `<rootDir>/${name}/src`),
  testMatch: ['**/*.test.ts', '**/*.test.tsx'],
  // A rendered part takes the same builds of its libraries as everything else here.
  testEnvironmentOptions: { customExportConditions: ['node', 'node-addons'] },
  setupFiles: ['<rootDir>/jest.setup.cjs'],
  transform: {
    '^.+\\.tsx?$': [
      '@swc/jest',
      {
        jsc: {
          parser: { syntax: 'typescript', tsx: true, decorators: true },
          transform: { react: { runtime: 'automatic' }, legacyDecorator: true, decoratorMetadata: true, useDefineForClassFields: false },
          target: 'es2022',
        },
        module: { type: 'commonjs' },
      },
    ],
  },
  moduleNameMapper: {
    '^@lantern/core$': '<rootDir>/core/src/index.ts',
    '^@lantern/rtmp$': '<rootDir>/rtmp/src/index.ts',
    '^@lantern/contract$': '<rootDir>/contract/src/index.ts',
    '^@lantern/contract/network-http$': '<rootDir>/contract/src/network-http/index.ts',
  },
};
