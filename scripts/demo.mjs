// The whole product with the demo station and its stand-in networks, from a fresh clone with one command.
import { createWriteStream, existsSync, mkdirSync, rmSync } from 'node:fs';
import { once } from 'node:events';
import { join } from 'node:path';
import { ensureBuilt } from './steps/build.mjs';
import { ensureInstalled } from './steps/install.mjs';
import { root } from './steps/places.mjs';
import { demandFreePorts, startProcess } from './steps/processes.mjs';
import { startServer } from './steps/server.mjs';

const port = process.env.LANTERN_PORT ?? '4700';
const airPort = process.env.LANTERN_AIR_PORT ?? String(Number(port) + 1);
const ingestPort = process.env.LANTERN_RTMP_PORT ?? String(Number(port) + 2);
const networksPort = process.env.LANTERN_NETWORKS_PORT ?? '4720';
const rtmpPort = process.env.LANTERN_NETWORKS_RTMP_PORT ?? '4735';
const data = process.env.LANTERN_DEMO_DATA ?? join(root, 'demo-data');

ensureInstalled();
ensureBuilt();
await demandFreePorts([
  { port, setting: 'LANTERN_PORT' },
  { port: airPort, setting: 'LANTERN_AIR_PORT' },
  { port: ingestPort, setting: 'LANTERN_RTMP_PORT' },
  { port: networksPort, setting: 'LANTERN_NETWORKS_PORT' },
  { port: rtmpPort, setting: 'LANTERN_NETWORKS_RTMP_PORT' },
]);
if (process.argv.includes('--fresh') && existsSync(data)) rmSync(data, { recursive: true });
// A first start that was cut short has left half a station: it is made anew, whole or not at all.
if (existsSync(join(data, 'station', 'seeding'))) rmSync(data, { recursive: true });
mkdirSync(data, { recursive: true, mode: 0o700 });

const { ffmpegPath } = await import('./steps/ffmpeg.mjs');
const env = {
  LANTERN_PORT: port,
  LANTERN_AIR_PORT: airPort,
  LANTERN_RTMP_PORT: ingestPort,
  LANTERN_NETWORKS_PORT: networksPort,
  LANTERN_NETWORKS_RTMP_PORT: rtmpPort,
  LANTERN_NETWORKS_DATA: join(data, 'networks'),
  LANTERN_DATA: join(data, 'station'),
  LANTERN_DEMO: '1',
  // Its passwords are known to everybody: it answers this machine alone, whatever else is set.
  LANTERN_HOST: '127.0.0.1',
  LANTERN_URL: `http://localhost:${port}`,
  LANTERN_AUDIENCE: process.env.LANTERN_AUDIENCE ?? '1',
  FFMPEG_PATH: ffmpegPath(),
};
const log = createWriteStream(join(data, 'demo.log'), { flags: 'a' });
await once(log, 'open');
await startProcess('The stand-in networks', join(root, 'networks', 'dist', 'main.js'), env, log);
await startServer(env, log);

console.log(`
Noble Lantern is lit.

  Open      http://localhost:${port}
  Sign in   maren@alderfell.example
  Password  lantern-light

The stand-in networks: http://localhost:${networksPort}/operator sets faults on them.
Ctrl-C ends everything. The data stays in ${data}; npm run demo -- --fresh begins anew.
`);
