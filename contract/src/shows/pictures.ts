// Pictures and films of a show, as they are uploaded and shown.
import type { Crop, LetteringTrouble, PictureRecipe } from '@lantern/core';
import { IsNumber, Max, Min } from 'class-validator';

/** The largest picture that may be uploaded, in bytes and in pixels. */
export const THUMBNAIL_MAX_BYTES = 12_000_000;
export const THUMBNAIL_MAX_PIXELS = 50_000_000;

/** The picture of a show as one channel gets it. Lengths in pixels and bytes. */
export interface RenditionView {
  channelId: string;
  shape: number;
  width: number;
  height: number;
  bytes: number;
  quality: number;
  /** Structural similarity to what was not compressed, 0 to 1. */
  ssim: number;
  url: string;
  crop: Crop;
  byHand: boolean;
  /** `loses`: it was made light enough at a visible price; `badge`: a length badge covers something; `small`, `pale`: letters cannot be read where people meet it; `alike`: hardly told from the last date's. */
  warnings: ('loses' | 'badge' | 'alike' | LetteringTrouble)[];
}

/** The part of a picture that one shape takes, chosen by hand. */
export class CropRequest {
  @IsNumber()
  @Min(0.2)
  @Max(5)
  shape!: number;

  @IsNumber()
  @Min(0)
  @Max(1)
  x!: number;

  @IsNumber()
  @Min(0)
  @Max(1)
  y!: number;
}

/** Of a film, in bytes as it comes, and in ms as it is kept. */
export const TRAILER_MAX_BYTES = 300_000_000;
export const TRAILER_MAX_MS = 180_000;

export interface TrailerView {
  state: 'making' | 'ready' | 'failed';
  lengthMs: number;
  /** Why the last film could not be taken; empty otherwise. */
  words: string;
  url: string;
}

export interface ThumbnailView {
  url: string;
  /** What it is composed from; null: it came as a file. */
  recipe: PictureRecipe | null;
  /** A waiting picture that is made from the thumbnail’s parts. */
  follows: boolean;
  /** Of the picture as it was chosen, in pixels. Each channel is sent a rendition by its own rules. */
  width: number;
  height: number;
}
