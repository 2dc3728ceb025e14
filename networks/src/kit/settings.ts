// Where the stand-ins listen and keep their data, from the environment.
import { mkdirSync } from 'node:fs';
import { join, resolve } from 'node:path';

export interface Settings {
  httpPort: number;
  rtmpPort: number;
  /** The address under which browsers and the server reach the stand-ins. */
  publicUrl: string;
  rtmpUrl: string;
  dataDir: string;
  mediaDir: string;
  ffmpeg: string;
  /** Whether made-up viewers watch beside real ones. */
  audience: boolean;
  /** Folder that takes everything arriving at the ingest, for measuring; null: keep nothing. */
  captureDir: string | null;
}

export function readSettings(env: NodeJS.ProcessEnv = process.env): Settings {
  const httpPort = Number(env.LANTERN_NETWORKS_PORT ?? 4720);
  const rtmpPort = Number(env.LANTERN_NETWORKS_RTMP_PORT ?? 4735);
  const dataDir = resolve(env.LANTERN_NETWORKS_DATA ?? 'demo-data/networks');
  const mediaDir = join(dataDir, 'media');
  mkdirSync(mediaDir, { recursive: true });
  return {
    httpPort,
    rtmpPort,
    publicUrl: env.LANTERN_NETWORKS_URL ?? `http://localhost:${httpPort}`,
    rtmpUrl: env.LANTERN_NETWORKS_RTMP_URL ?? `rtmp://localhost:${rtmpPort}`,
    dataDir,
    mediaDir,
    ffmpeg: env.FFMPEG_PATH ?? 'ffmpeg',
    audience: env.LANTERN_AUDIENCE === '1',
    captureDir: env.LANTERN_CAPTURE_DIR ?? null,
  };
}

export const SETTINGS = Symbol('settings');
