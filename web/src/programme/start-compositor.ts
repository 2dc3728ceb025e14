// The compositor in a thread of its own, with the fonts in which it writes.
import displayFont from '@fontsource-variable/bricolage-grotesque/files/bricolage-grotesque-latin-wght-normal.woff2?url';
import textFont from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff2?url';
import { serverAheadMs } from '../app/clock';
import type { FromCompositor, ToCompositor } from './compositor-messages';

const FONTS = [
  { family: 'Bricolage Grotesque Variable', weight: '200 800', url: displayFont },
  { family: 'Atkinson Hyperlegible Next', weight: '400', url: textFont },
];

type Begin = Extract<ToCompositor, { type: 'begin' }>;

/** One compositor, drawing from now on. Its canvas and its stream are its own then. */
export class CompositorHere {
  private readonly worker = new Worker(new URL('./compositor.worker.ts', import.meta.url), { type: 'module' });

  constructor(begin: Omit<Begin, 'type' | 'fonts' | 'aheadMs'>, onMessage: (message: FromCompositor) => void) {
    this.worker.onmessage = ({ data }: MessageEvent<FromCompositor>) => onMessage(data);
    const { programme, next } = begin;
    this.tell({ type: 'begin', fonts: FONTS, aheadMs: serverAheadMs(), ...begin }, [programme, ...(next ? [next] : [])]);
  }

  tell(message: ToCompositor, transfer: Transferable[] = []): void {
    this.worker.postMessage(message, transfer);
  }

  close(): void {
    this.tell({ type: 'end' });
    setTimeout(() => this.worker.terminate(), 200);
  }
}
