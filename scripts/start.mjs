// The product for real use. Its data lies in the folder that LANTERN_DATA names (default: data).
import { join } from 'node:path';
import { ensureBuilt } from './steps/build.mjs';
import { ensureInstalled } from './steps/install.mjs';
import { root } from './steps/places.mjs';
import { demandFreePorts, startProcess } from './steps/processes.mjs';

const port = process.env.LANTERN_PORT ?? '4700';
ensureInstalled();
ensureBuilt();
await demandFreePorts([{ port, setting: 'LANTERN_PORT' }]);
const { setUpCode } = await startProcess('The server', join(root, 'server', 'dist', 'main.js'), {
  LANTERN_PORT: port,
  LANTERN_DATA: process.env.LANTERN_DATA ?? join(root, 'data'),
});
const address = process.env.LANTERN_URL ?? `http://localhost:${port}`;
// The last line is the one that is needed: whatever the server has to say has been said by now.
setTimeout(() => console.log(setUpCode ? `\nOpen ${address} and set up your station with the code ${setUpCode}` : `\nOpen ${address}`), 200);
