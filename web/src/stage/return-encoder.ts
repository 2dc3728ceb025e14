// The programme for guests: encoded once, in a thread of its own, whatever their number.
import type { FromReturn, ToReturn } from './return.worker';

export class ReturnEncoder {
  private readonly worker = new Worker(new URL('./return.worker.ts', import.meta.url), { type: 'module' });

  /** `picture`: of the programme; it is read by this from now on, while anybody sees it. */
  constructor(picture: MediaStreamTrack, onPicture: (isKey: boolean, bytes: ArrayBuffer) => void) {
    this.worker.onmessage = ({ data }: MessageEvent<FromReturn>) => onPicture(data.isKey, data.bytes);
    const { readable } = new MediaStreamTrackProcessor<VideoFrame>({ track: picture, maxBufferSize: 1 });
    this.tell({ type: 'begin', frames: readable }, [readable]);
  }

  /** Whether anybody sees it: nothing is encoded for nobody. */
  watched(yes: boolean): void {
    this.tell({ type: 'watched', yes });
  }

  /** The next picture is a key frame. */
  key(): void {
    this.tell({ type: 'key' });
  }

  close(): void {
    this.worker.terminate();
  }

  private tell(message: ToReturn, transfer: Transferable[] = []): void {
    this.worker.postMessage(message, transfer);
  }
}
