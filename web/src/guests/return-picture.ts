// The programme as the guest sees it: pictures that the server hands on, decoded here and drawn on a canvas.
import { RETURN_CODEC, RETURN_FPS, RETURN_SIZE } from '@lantern/core';

const EVERY_US = 1_000_000 / RETURN_FPS;
/** What waits to be decoded; beyond, the page was asleep, and the newest key frame is waited for. */
const MOST_WAITING = 30;

/** Whether this browser can show the return as it comes from the server. */
export async function seesReturn(): Promise<boolean> {
  if (typeof VideoDecoder === 'undefined') return false;
  const { supported } = await VideoDecoder.isConfigSupported({ codec: RETURN_CODEC }).catch(() => ({ supported: false }));
  return supported === true;
}

export class ReturnPicture {
  private decoder: VideoDecoder | null = null;
  private waitsForKey = true;
  private count = 0;
  private readonly context: CanvasRenderingContext2D;

  constructor(canvas: HTMLCanvasElement) {
    canvas.width = RETURN_SIZE.width;
    canvas.height = RETURN_SIZE.height;
    this.context = canvas.getContext('2d', { alpha: false })!;
  }

  take(isKey: boolean, bytes: Uint8Array): void {
    if ((this.decoder?.decodeQueueSize ?? 0) > MOST_WAITING) this.forget();
    if (this.waitsForKey && !isKey) return;
    try {
      this.decoder ??= this.made();
      this.decoder.decode(new EncodedVideoChunk({ type: isKey ? 'key' : 'delta', timestamp: Math.round(this.count++ * EVERY_US), data: bytes }));
      this.waitsForKey = false;
    } catch {
      this.forget();
    }
  }

  close(): void {
    this.forget();
  }

  private made(): VideoDecoder {
    const decoder: VideoDecoder = new VideoDecoder({
      output: (frame) => {
        if (this.decoder === decoder) this.context.drawImage(frame, 0, 0, RETURN_SIZE.width, RETURN_SIZE.height);
        frame.close();
      },
      error: () => this.decoder === decoder && this.forget(),
    });
    decoder.configure({ codec: RETURN_CODEC, optimizeForLatency: true });
    return decoder;
  }

  private forget(): void {
    const { decoder } = this;
    this.decoder = null;
    this.waitsForKey = true;
    if (decoder && decoder.state !== 'closed') decoder.close();
  }
}
