// What journeys need of the system beside Node: Debian's Chromium, ffprobe from Debian's ffmpeg, and coturn, by which guests are relayed.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';

const NEEDED = [
  { name: 'chromium', there: () => existsSync(process.env.CHROMIUM_PATH ?? '/usr/bin/chromium'), setting: 'CHROMIUM_PATH' },
  { name: 'ffmpeg', there: () => spawnSync(process.env.FFPROBE_PATH ?? 'ffprobe', ['-version']).status === 0, setting: 'FFPROBE_PATH (its ffprobe)' },
  { name: 'coturn', there: () => existsSync(process.env.TURNSERVER_PATH ?? '/usr/bin/turnserver'), setting: 'TURNSERVER_PATH (its turnserver)' },
];

export function ensureSystem() {
  const missing = NEEDED.filter(({ there }) => !there());
  if (!missing.length) return;
  const names = missing.map(({ name }) => name);
  if (process.getuid?.() === 0 && existsSync('/usr/bin/apt-get')) {
    console.log(`Installing ${names.join(' and ')} with apt-get…`);
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
    spawnSync('apt-get', ['update', '-qq'], { stdio: 'inherit', env });
    spawnSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...names], { stdio: ['ignore', 'ignore', 'inherit'], env });
  }
  const still = NEEDED.filter(({ there }) => !there());
  if (!still.length) return;
  for (const { name, setting } of still) console.error(`The tests need ${name}: install it (apt-get install ${name}), or name it in ${setting}.`);
  process.exit(1);
}
