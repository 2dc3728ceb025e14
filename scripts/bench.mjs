// Prints figures of speed and cost on this machine. Never fails on a figure.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensureBuilt } from './steps/build.mjs';
import { ensureInstalled } from './steps/install.mjs';
import { bin, root } from './steps/places.mjs';
import { ensureSystem } from './steps/system.mjs';

ensureInstalled();
ensureSystem();
ensureBuilt();
process.exit(spawnSync(bin('playwright'), ['test', '-c', join(root, 'bench')], { cwd: root, stdio: 'inherit' }).status ?? 1);
