// The compositor's own thread.
import { runCompositor } from './compositor';

runCompositor();
