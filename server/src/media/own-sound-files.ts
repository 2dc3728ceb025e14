// Where the own sounds of guests lie: with the recording of their show, and so they go with it.
import { OWN_SOUND_TYPES } from '@lantern/contract';
import { readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';

export type TakeType = keyof typeof OWN_SOUND_TYPES;

/** One unbroken take of a guest's browser, begun at `beganAt` by the server's clock. */
export interface Take {
  guestId: string;
  beganAt: number;
  type: TakeType;
  name: string;
}

const TAKE = /^own-([0-9a-f-]{36})-(\d{1,16})\.(webm|mp4)$/;
const OF_GUEST = /^own-([0-9a-f-]{36})[-.]/;

export const takeName = ({ guestId, beganAt, type }: Omit<Take, 'name'>): string => `own-${guestId}-${beganAt}.${type}`;
/** All takes of a guest laid beside the recording, as one file. */
export const laidName = (guestId: string): string => `own-${guestId}.flac`;

/** What is being made of them. */
export const halfName = (guestId: string, making: string): string => `own-${guestId}.${making}.half`;

/** Names of what is being made, or was left half made. */
export async function halvesIn(folder: string): Promise<string[]> {
  return (await readdir(folder).catch(() => [])).filter((name) => OF_GUEST.test(name) && name.endsWith('.half'));
}

/** The takes in a folder, in the order in which they were begun. */
export async function takesIn(folder: string): Promise<Take[]> {
  const names = await readdir(folder).catch(() => []);
  return names
    .flatMap((name): Take[] => {
      const [, guestId, beganAt, type] = TAKE.exec(name) ?? [];
      return guestId ? [{ guestId, beganAt: Number(beganAt), type: type as TakeType, name }] : [];
    })
    .sort((a, b) => a.beganAt - b.beganAt);
}

/** Names of all that is kept of a guest: takes, what was made of them, and what a killed server left half made. */
export async function namesOf(folder: string, guestId: string): Promise<string[]> {
  return (await readdir(folder).catch(() => [])).filter((name) => OF_GUEST.exec(name)?.[1] === guestId);
}

/** Size and time of the last change of a file; null: it is not there. */
export const factsOf = (folder: string, name: string): Promise<{ size: number; mtimeMs: number } | null> => stat(join(folder, name)).catch(() => null);
