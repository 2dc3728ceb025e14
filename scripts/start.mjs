// The product for real use. Its data lies in the folder that LANTERN_DATA names (default: data).
import { join } from 'node:path';
import { ensureBuilt } from './steps/build.mjs';
import { ensureInstalled } from './steps/install.mjs';
import { root } from './steps/places.mjs';
import { demandFreePorts } from './steps/processes.mjs';
import { startServer } from './steps/server.mjs';

const port = process.env.LANTERN_PORT ?? '4700';
ensureInstalled();
ensureBuilt();
const airPort = process.env.LANTERN_AIR_PORT ?? String(Number(port) + 1);
const ingestPort = process.env.LANTERN_RTMP_PORT ?? String(Number(port) + 2);
await demandFreePorts([
  { port, setting: 'LANTERN_PORT' },
  { port: airPort, setting: 'LANTERN_AIR_PORT' },
  { port: ingestPort, setting: 'LANTERN_RTMP_PORT' },
]);
const env = { LANTERN_PORT: port, LANTERN_AIR_PORT: airPort, LANTERN_RTMP_PORT: ingestPort, LANTERN_DATA: process.env.LANTERN_DATA ?? join(root, 'data') };
const { setUpCode } = await startServer(env);
const address = process.env.LANTERN_URL ?? `http://localhost:${port}`;
// The last line is the one that is needed: whatever the server has to say has been said by now.
setTimeout(() => console.log(setUpCode ? `\nOpen ${address} and set up your station with the code ${setUpCode}` : `\nOpen ${address}`), 200);
