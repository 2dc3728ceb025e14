import { ensureBuilt } from './steps/build.mjs';
import { ensureInstalled } from './steps/install.mjs';

ensureInstalled();
ensureBuilt();
