// What the stage and its compositor worker say to each other.
import type { CameraVerdict, CardStyle, Palette, Scene, SceneContent, Seat, StrapStyle } from '@lantern/core';
import type { FontFiles } from './fonts';
import type { ClipTold, Playing } from './clip-player';
import type { Drawn } from './drawn-source';

/** A look, with the addresses of all that is drawn of it. */
export interface LookContent {
  palette: Palette;
  straps: StrapStyle;
  cards: CardStyle;
  /** How many marks of sponsors there are. */
  sponsors: number;
  sponsorsInCorner: boolean;
  sponsorUrls: readonly string[];
  /** Address of the look's logo; null: the lantern. */
  logoUrl: string | null;
  letters: FontFiles;
  /** What lies behind cards and people: an evening in the ground colour, that colour alone, or a picture. */
  background: BackgroundContent;
}

export type BackgroundContent = 'evening' | 'colour' | { url: string };

/** Everything that stands on the scenes of a show, in its look. */
export type StageContent = SceneContent & LookContent;

export type ToCompositor =
  | {
      type: 'begin';
      /** Takes the programme's pictures, one every 33 ms. */
      programme: WritableStream<VideoFrame>;
      /** Shows the scene that a take brings next; null when nobody looks. */
      next: OffscreenCanvas | null;
      content: StageContent;
      onProgramme: Scene;
      onNext: Scene;
      /** How far the server's clock is ahead of this machine's, in ms. */
      aheadMs: number;
    }
  /** One tag of the picture of the outside line on the stage, as FLV has it; null: none stands there any more. */
  | { type: 'line'; tag: ArrayBuffer | null }
  /** What is seen on a seat from now on: pictures as they come, something drawn, or nothing. */
  | { type: 'source'; seat: Seat; frames: ReadableStream<VideoFrame> | ImageBitmap | Drawn | null }
  /** A clip is made ready to be played; null: none is. */
  | { type: 'clip'; clip: Playing | null }
  /** It is played as soon as its first picture is there, made ready or not; null: what is played ends. */
  | { type: 'play'; clip: Playing | null }
  | { type: 'scenes'; onProgramme: Scene; onNext: Scene }
  | { type: 'content'; content: StageContent; aheadMs: number }
  /** Has a moment told once it has come, by the server's clock; null: none. This timer goes on while the stage's tab is hidden. */
  | { type: 'call'; at: number | null }
  | { type: 'end' };

export type FromCompositor =
  | { type: 'failed'; words: string }
  /** The moment has come. */
  | { type: 'called' }
  /** Whether pictures of a seat come at this moment. */
  | { type: 'seen'; seat: Seat; seen: boolean }
  /** How the host's camera is to be judged; null: there is none. */
  | { type: 'camera'; look: CameraVerdict | null }
  /** Of the last second: pictures that were made, and that were due and were not. */
  | { type: 'made'; made: number; missed: number }
  /** How a clip stands. */
  | { type: 'clip'; id: string; told: ClipTold };
