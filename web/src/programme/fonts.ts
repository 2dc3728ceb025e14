// Fonts as whoever draws a programme loads them.
import type { TypeFace } from '@lantern/core';

/** A font as a browser loads it (CSS Font Loading 3). `descriptor`: the weights that its file holds; `weight`: the one that is written. */
export interface FontFile {
  family: string;
  descriptor: string;
  weight: number;
  url: string;
}

export type FontFiles = Readonly<Record<TypeFace, FontFile>>;

/** Whoever holds fonts: a page or a worker. */
interface FontHolder {
  fonts: FontFaceSet;
}

const loading = new Map<string, Promise<void>>();

/** Has the fonts ready to write with. Rejects where one of them does not come. */
export async function loadFonts(files: readonly FontFile[], into: FontHolder): Promise<void> {
  const load = async ({ family, descriptor, url }: FontFile) => {
    const face = new FontFace(family, `url("${url}")`, { weight: descriptor });
    into.fonts.add(await face.load());
  };
  await Promise.all(
    files.map((file) => {
      const key = `${file.family} ${file.descriptor}`;
      let coming = loading.get(key);
      if (!coming) {
        loading.set(key, (coming = load(file)));
        coming.catch(() => loading.delete(key));
      }
      return coming;
    }),
  );
}
