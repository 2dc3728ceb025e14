// How much room is left where the data lies. A recording takes some 20 MB a minute; it must not be a surprise.
import { MINUTE_MS } from '@lantern/core';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { statfs } from 'node:fs/promises';
import { RegularWork } from './regular-work';
import { SETTINGS, type Settings } from './settings';

/** Below this people are told; below the other nothing large is taken any more. */
export const LITTLE_ROOM_BYTES = 5_000_000_000;
export const NO_ROOM_BYTES = 500_000_000;
const LOOK_EVERY_MS = MINUTE_MS;

export interface Room {
  /** Null where the system does not tell. */
  freeBytes: number | null;
  state: 'enough' | 'little' | 'none';
}

@Injectable()
export class DiskSpace implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('disk');
  private readonly work = new RegularWork('disk', LOOK_EVERY_MS, async () => void (await this.look()));
  private last: Room = { freeBytes: null, state: 'enough' };

  constructor(@Inject(SETTINGS) private readonly settings: Settings) {}

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  /** As it was when it was last looked at. */
  get room(): Room {
    return this.last;
  }

  async look(): Promise<Room> {
    try {
      const { bavail, bsize } = await statfs(this.settings.dataDir);
      const freeBytes = bavail * bsize;
      const state = freeBytes < NO_ROOM_BYTES ? 'none' : freeBytes < LITTLE_ROOM_BYTES ? 'little' : 'enough';
      if (state !== this.last.state && state !== 'enough') this.log.warn(`${Math.round(freeBytes / 1e6)} MB are left where the data lies`);
      this.last = { freeBytes, state };
    } catch (error) {
      this.log.warn(error instanceof Error ? error.message : String(error));
    }
    return this.last;
  }
}
