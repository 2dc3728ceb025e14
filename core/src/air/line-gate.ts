// What of an outside line is passed on to one stage: its configuration, whole pictures from a key frame on, and all that is heard.
import { isKeyFrame, isSequenceHeader, type FlvTag } from '../flv/tags';

/** Of one feed to one stage. */
export class LineGate {
  private waits = true;
  private configuration: Uint8Array | null = null;

  /** Whether a tag is passed on. `slow`: what was passed on before has not been taken. */
  lets(tag: FlvTag, slow: boolean): boolean {
    if (tag.kind === 'script') return false;
    // What is heard is small, and goes on while a picture is waited for; encoders say its configuration again as often as they like.
    if (tag.kind === 'audio') return true;
    if (isSequenceHeader(tag)) {
      // Only another one makes what comes next unreadable without a key frame.
      if (!this.configuration || !same(this.configuration, tag.data)) this.waits = true;
      this.configuration = tag.data;
      return true;
    }
    if (slow) this.waits = true;
    else if (isKeyFrame(tag)) this.waits = false;
    return !this.waits;
  }
}

const same = (a: Uint8Array, b: Uint8Array): boolean => a.length === b.length && a.every((byte, at) => byte === b[at]);
