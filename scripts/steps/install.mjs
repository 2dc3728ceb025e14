// Brings node_modules into step with package-lock.json; does nothing when it is already.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './places.mjs';

export function ensureInstalled() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 11)) {
    console.error(`Node ${process.versions.node} is too old: install Node 20.11 or newer.`);
    process.exit(1);
  }
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const stamp = join(root, 'node_modules', '.lantern-installed');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  console.log('Installing packages. The first time takes a few minutes, since the database driver is compiled.');
  // Not `npm ci`: it refuses a lock file without the builds for other systems, which some registries leave out.
  const { status } = spawnSync('npm', ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: 'inherit',
    // One package would report that it was installed; nobody is told.
    env: { ...process.env, SCARF_ANALYTICS: 'false', DO_NOT_TRACK: '1' },
  });
  if (status !== 0) {
    console.error('The packages could not be installed. Read what npm says above, then try again.');
    process.exit(status ?? 1);
  }
  writeFileSync(stamp, lock);
}
