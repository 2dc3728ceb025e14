// What of the mailbag may stand in a column of a scene: what everybody may read, fit for a picture.
import { fitForPicture } from '../questions/on-picture';
import type { WriterStanding } from './messages';

interface Written {
  writer: string;
  standing: WriterStanding;
  words: string;
  state: string;
  held: string | null;
}

/** The newest `most` that are seen where they were written and that nobody's rule holds back; of the channels themselves none. The oldest first. */
export function forColumn(messages: readonly Written[], most: number): { name: string; words: string }[] {
  const found: { name: string; words: string }[] = [];
  for (let at = messages.length - 1; at >= 0 && found.length < most; at--) {
    const { writer, standing, words, state, held } = messages[at]!;
    if (state !== 'shown' || held !== null || standing === 'own') continue;
    const said = { name: fitForPicture(writer), words: fitForPicture(words) };
    if (said.name && said.words) found.unshift(said);
  }
  return found;
}
