// Builds what has changed since the last build: the Node packages with tsc, the pages with Vite.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { bin, root } from './places.mjs';

const NODE_PACKAGES = ['core', 'contract', 'rtmp', 'networks', 'server'];

export function ensureBuilt() {
  const stamp = join(root, '.cache', 'built');
  const now = fingerprint();
  const outputs = [...NODE_PACKAGES.map((name) => join(root, name, 'dist')), join(root, 'web', 'dist', 'index.html')];
  if (outputs.every(existsSync) && existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
  console.log('Building…');
  run(bin('tsc'), ['-b', ...NODE_PACKAGES]);
  run(bin('vite'), ['build', 'web', '--logLevel', 'warn']);
  mkdirSync(join(root, '.cache'), { recursive: true });
  writeFileSync(stamp, now);
}

function run(command, args) {
  const { status } = spawnSync(command, args, { cwd: root, stdio: 'inherit' });
  if (status !== 0) process.exit(status ?? 1);
}

function fingerprint() {
  const hash = createHash('sha256');
  const add = (path) => {
    const facts = statSync(path);
    if (facts.isDirectory()) for (const name of readdirSync(path).sort()) add(join(path, name));
    else hash.update(`${path} ${facts.size} ${facts.mtimeMs}\n`);
  };
  for (const name of [...NODE_PACKAGES, 'web']) {
    for (const part of ['src', 'public', 'index.html', 'package.json', 'tsconfig.json', 'vite.config.ts']) {
      if (existsSync(join(root, name, part))) add(join(root, name, part));
    }
  }
  add(join(root, 'tsconfig.base.json'));
  add(join(root, 'package-lock.json'));
  return hash.digest('hex');
}
