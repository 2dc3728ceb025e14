// How late viewers see a show, measured on each channel: somebody who opens its public playback at this moment sees a picture, and the air
// process knows when that went out. Once a minute; what cannot be measured is as the network says.
import { livePlaylistOf, whereOneBegins } from '@lantern/core';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { RegularWork } from '../foundation/regular-work';
import { SETTINGS, type Settings } from '../foundation/settings';
import { smallPictures } from '../media/small-pictures';
import { AirLink } from './air-link';
import { AirService } from './air.service';

const LOOK_EVERY_MS = 5_000;
/** The first time as soon as there can be something, then once a minute. */
const FIRST_AFTER_MS = 10_000;
const MEASURE_EVERY_MS = 60_000;
const TOGETHER_WITHIN_MS = 3_000;
/** What could not be told, as from a card that stands still, is looked at again. */
const AGAIN_AFTER_MS = 30_000;
const MAY_TAKE_MS = 8_000;
const MOST_PLAYLIST_BYTES = 2_000_000;
/** A part of some seconds; of one that is longer, its beginning tells enough. */
const MOST_PART_BYTES = 6_000_000;

/** A picture of a playback: when it was asked for, by this machine's clock, and how far behind its beginning somebody is who begins there. */
export interface SeenThere {
  askedAt: number;
  intoMs: number;
  grey: Uint8Array;
}

@Injectable()
export class LatenessService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('lateness');
  private readonly work = new RegularWork('how late viewers see it', LOOK_EVERY_MS, () => this.look());
  /** By airing, when it is measured next. */
  private readonly next = new Map<string, number>();

  constructor(
    private readonly air: AirService,
    private readonly link: AirLink,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  private async look(): Promise<void> {
    const now = Date.now();
    const shows = this.air.onAirNow.map((showId) => ({ showId, playbacks: this.air.session(showId)?.playbacks ?? [] }));
    const there = new Set(shows.flatMap(({ playbacks }) => playbacks.map(({ airingId }) => airingId)));
    for (const airingId of this.next.keys()) if (!there.has(airingId)) this.next.delete(airingId);
    if (!this.link.connected.value) return;
    for (const { showId, playbacks } of shows) {
      for (const { airingId } of playbacks) if (!this.next.has(airingId)) this.next.set(airingId, now + FIRST_AFTER_MS);
      // Those that are due soon go along: what went out is looked at once for all.
      if (!playbacks.some(({ airingId }) => this.next.get(airingId)! <= now)) continue;
      const due = playbacks.filter(({ airingId }) => this.next.get(airingId)! <= now + TOGETHER_WITHIN_MS);
      for (const { airingId } of due) this.next.set(airingId, now + MEASURE_EVERY_MS);
      await this.measure(showId, due);
    }
  }

  /** Measures all channels of a show in one go: what went out is looked at once. */
  private async measure(showId: string, playbacks: readonly { airingId: string; playbackUrl: string; watchUrl: string }[]): Promise<void> {
    const seen = await Promise.all(
      playbacks.map(({ playbackUrl, watchUrl }) =>
        seenThere(this.settings.ffmpeg, playbackUrl, watchUrl).catch((error: unknown) => {
          this.log.debug(`a playback could not be looked at: ${error instanceof Error ? error.message : String(error)}`);
          return null;
        }),
      ),
    );
    const found = seen.flatMap((each, at) => (each ? [{ ...each, airingId: playbacks[at]!.airingId }] : []));
    if (!found.length) return;
    const outAt = await this.link.whenOut(
      showId,
      found.map(({ grey }) => grey),
    );
    found.forEach(({ airingId, askedAt, intoMs }, at) => {
      const out = outAt[at];
      if (typeof out === 'number') this.air.session(showId)?.hearBehind(airingId, askedAt - out - intoMs);
      else if (this.next.has(airingId)) this.next.set(airingId, Date.now() + AGAIN_AFTER_MS);
    });
  }
}

/** What somebody sees who opens a playback now. Null: nothing yet. Throws where it cannot be had. */
export async function seenThere(ffmpeg: string, playbackUrl: string, watchUrl: string): Promise<SeenThere | null> {
  // A network says where its playback is; nobody is sent anywhere else by that.
  const { origin } = new URL(watchUrl);
  const list = new URL(playbackUrl);
  if (list.origin !== origin) throw new Error('its playback is not where its page is');
  const text = await read(list, MOST_PLAYLIST_BYTES);
  const askedAt = Date.now();
  const playlist = text && livePlaylistOf(text.toString('utf8'));
  if (!playlist) return null;
  const { uri, intoS } = whereOneBegins(playlist);
  const part = new URL(uri, list);
  if (part.origin !== origin) throw new Error('a part of its playback is elsewhere');
  const bytes = await read(part, MOST_PART_BYTES);
  const [grey] = bytes ? await smallPictures(ffmpeg, 'mpegts', [bytes], 1) : [];
  return grey ? { askedAt, intoMs: intoS * 1_000, grey } : null;
}

/** What stands at an address, up to so many bytes; null: nothing does. */
async function read(url: URL, most: number): Promise<Buffer | null> {
  const response = await fetch(url, { redirect: 'error', signal: AbortSignal.timeout(MAY_TAKE_MS) });
  const pieces: Uint8Array[] = [];
  let bytes = 0;
  for await (const piece of response.ok ? (response.body ?? []) : []) {
    pieces.push(piece as Uint8Array);
    bytes += (piece as Uint8Array).length;
    if (bytes > most) break;
  }
  if (!response.ok) await response.body?.cancel();
  return response.ok ? Buffer.concat(pieces).subarray(0, most) : null;
}
