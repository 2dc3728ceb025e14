// Style is the formatter's; this finds mistakes, and keeps the packages importing in one direction.
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

const ours = ['core', 'contract', 'rtmp', 'server', 'web', 'networks', 'e2e', 'bench'];

/** Forbids a package the imports of ours that are not on its list. */
function mayImport(folder, allowed, alsoForbidden = []) {
  const forbidden = ours.filter((name) => !allowed.includes(name)).map((name) => ({ group: [`@lantern/${name}`, `@lantern/${name}/*`] }));
  return {
    files: [`${folder}/**/*.{ts,tsx}`],
    ignores: ['**/*.test.ts'], // tests may stand up real collaborators
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: [...forbidden, ...alsoForbidden.map((what) => (what instanceof RegExp ? { regex: what.source } : { group: [what] }))] },
      ],
    },
  };
}

export default tseslint.config(
  { ignores: ['**/dist/**', '**/dist-types/**', '**/node_modules/**', 'demo-data/**', 'data/**', 'e2e/test-results/**', '**/*.d.ts'] },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    languageOptions: { parserOptions: { projectService: { allowDefaultProject: [] }, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': 'error',
      '@typescript-eslint/consistent-type-imports': 'off', // decorators need the values
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/no-require-imports': ['error', { allowAsImport: true }],
      eqeqeq: 'error',
    },
  },
  // In a process that must not end, no promise is let go without a name and a handler: see foundation/let-go.ts.
  {
    files: ['server/src/**/*.ts', 'networks/src/**/*.ts'],
    ignores: ['**/*.test.ts', 'server/src/test/**'],
    rules: { '@typescript-eslint/no-floating-promises': ['error', { ignoreVoid: false }] },
  },
  // Transactions by `together` alone, and named columns: `save` writes back whatever was read before, and begins a transaction of its own.
  {
    files: ['server/src/**/*.ts'],
    ignores: ['**/*.test.ts', 'server/src/test/**', 'server/src/foundation/together.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: 'CallExpression[callee.property.name=/^(transaction|startTransaction|createQueryRunner)$/]',
          message: 'Several writes that belong together go through `together` (foundation/together.ts).',
        },
        { selector: "CallExpression[callee.property.name='save']", message: 'Write named columns: `addRow` or `changeRow` (foundation/together.ts).' },
      ],
    },
  },
  { files: ['web/src/**/*.{ts,tsx}'], plugins: { 'react-hooks': hooks }, rules: { ...hooks.configs.recommended.rules } },
  // Core is pure: nothing of ours, no Node, no clock, no dice.
  {
    ...mayImport('core', ['core'], ['node:*', 'react', 'react-*', '@nestjs/*', 'typeorm']),
  },
  {
    files: ['core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': ['error', 'window', 'document', 'process', 'fetch', 'setTimeout', 'setInterval', 'performance'],
      'no-restricted-properties': ['error', { object: 'Date', property: 'now' }, { object: 'Math', property: 'random' }],
    },
  },
  mayImport('contract', ['core', 'contract'], ['node:*', 'react', '@nestjs/*', 'typeorm']),
  mayImport('rtmp', []),
  mayImport('server', ['core', 'contract', 'rtmp']),
  mayImport('web/src', ['core', 'contract'], ['node:*', '@nestjs/*', 'typeorm', '@lantern/contract/network-http']),
  // The stand-ins know what they publish, and share the reader of RTMP, which knows nothing of ours.
  mayImport('networks', ['contract', 'rtmp'], [/^@lantern\/contract$/]),
  mayImport('e2e', ['core', 'contract']),
  mayImport('bench', ['core', 'contract', 'e2e']),
);
