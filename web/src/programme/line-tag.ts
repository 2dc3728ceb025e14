// What comes of an outside line on the stage's socket: tags as FLV has them.
import { FlvSyntaxError, flvTagOf, type FlvTag } from '@lantern/core';

/** What the line's unevenness is hidden behind, in ms; picture and sound wait alike. */
export const LINE_WAITS_MS = 150;

/** Null: it cannot be read, and is left out. */
export function readTag(bytes: ArrayBuffer): FlvTag | null {
  try {
    return flvTagOf(new Uint8Array(bytes));
  } catch (error) {
    if (error instanceof FlvSyntaxError) return null;
    throw error;
  }
}
