// What the stage and its compositor worker say to each other.
import type { SceneContent, SceneId } from '@lantern/core';

export type ToCompositor =
  | {
      type: 'begin';
      /** Takes the programme's pictures, one every 33 ms. */
      programme: WritableStream<VideoFrame>;
      /** Shows the scene that a take brings next; null when nobody looks. */
      next: OffscreenCanvas | null;
      fonts: { family: string; weight: string; url: string }[];
      content: SceneContent;
      onProgramme: SceneId;
      onNext: SceneId;
      /** How far the server's clock is ahead of this machine's, in ms. */
      aheadMs: number;
    }
  /** One tag of the picture of the outside line on the stage, as FLV has it; null: none stands there any more. */
  | { type: 'line'; tag: ArrayBuffer | null }
  | { type: 'camera'; place: number; frames: ReadableStream<VideoFrame> | null }
  | { type: 'scenes'; onProgramme: SceneId; onNext: SceneId }
  | { type: 'content'; content: SceneContent; aheadMs: number }
  | { type: 'end' };

export type FromCompositor = { type: 'failed'; words: string };
