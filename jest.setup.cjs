// Random tests find the same at each run; another seed by LANTERN_SEED. A failure names the seed and the path to it.
const fc = require('fast-check'); // eslint-disable-line @typescript-eslint/no-require-imports -- read by Jest itself
fc.configureGlobal({ seed: Number(process.env.LANTERN_SEED ?? 20261126) });
