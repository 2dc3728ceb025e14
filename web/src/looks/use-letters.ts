import type { LettersName } from '@lantern/core';
import { useEffect, useState } from 'react';
import { loadFonts } from '../programme/fonts';
import { fontFile } from './letters';

/** The family in which headings of some letters are written, once it is there; null: it is not, and what is written in others is written all the same. */
export function useLetters(letters: LettersName | null, ownUrl: string | null): string | null {
  const [family, setFamily] = useState<string | null>(null);
  useEffect(() => {
    if (letters === null) return;
    let late = false;
    const file = fontFile(letters, 'display', () => ownUrl);
    loadFonts([file], document).then(
      () => !late && setFamily(file.family),
      () => undefined,
    );
    return () => {
      late = true;
    };
  }, [letters, ownUrl]);
  return family;
}
