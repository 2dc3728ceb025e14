// The compositor's own thread.
import { Compositor } from './compositor';
import type { FromCompositor, ToCompositor } from './compositor-messages';

let compositor: Compositor | null = null;

self.onmessage = ({ data }: MessageEvent<ToCompositor>) => {
  switch (data.type) {
    case 'begin':
      compositor?.end();
      compositor = new Compositor(data);
      compositor.start().catch((error: Error) => self.postMessage({ type: 'failed', words: error.message } satisfies FromCompositor));
      break;
    case 'camera':
      void compositor?.readCamera(data.place, data.frames);
      break;
    case 'scenes':
      compositor?.scenes(data.onProgramme, data.onNext);
      break;
    case 'content':
      compositor?.setContent(data.content, data.aheadMs);
      break;
    case 'end':
      compositor?.end();
      compositor = null;
      break;
  }
};
