// Words with which a host tells people on a channel where the replay is, with its chapters as far as they fit.
import { chapterLines, type Chapter } from './chapters';

/** `most`: characters that the channel takes; null: any number. What leads to the replay is never left out. */
export function wordsForPlace({ title, url, chapters }: { title: string; url: string; chapters: readonly Chapter[] }, most: number | null): string {
  const address = `\n${url}`;
  const room = (most ?? Infinity) - address.length;
  const thanks = [`Thank you for watching “${title}”. Here it is, to see again:`, 'Thank you for watching. To see again:', 'To see again:'];
  const begin = thanks.find((words) => words.length <= room) ?? '';
  const lines = chapters.length > 1 ? chapterLines(chapters).split('\n') : [];
  let words = `${begin}${address}`;
  for (const [at, line] of lines.entries()) {
    const longer = `${words}${at ? '' : '\n'}\n${line}`;
    if (most !== null && longer.length > most) break;
    words = longer;
  }
  return words.trim();
}
