// The compositor in a thread of its own.
import { serverAheadMs } from '../app/clock';
import type { FromCompositor, ToCompositor } from './compositor-messages';

type Begin = Extract<ToCompositor, { type: 'begin' }>;

/** One compositor, drawing from now on. Its canvas and its stream are its own then. */
export class CompositorHere {
  private readonly worker = new Worker(new URL('./compositor.worker.ts', import.meta.url), { type: 'module' });

  constructor(begin: Omit<Begin, 'type' | 'aheadMs'>, onMessage: (message: FromCompositor) => void) {
    this.worker.onmessage = ({ data }: MessageEvent<FromCompositor>) => onMessage(data);
    const { programme, next } = begin;
    this.tell({ type: 'begin', aheadMs: serverAheadMs(), ...begin }, [programme, ...(next ? [next] : [])]);
  }

  tell(message: ToCompositor, transfer: Transferable[] = []): void {
    this.worker.postMessage(message, transfer);
  }

  close(): void {
    this.tell({ type: 'end' });
    setTimeout(() => this.worker.terminate(), 200);
  }
}
