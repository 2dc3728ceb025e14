// Comments beneath Guildhand's talks: pages of threads, whichever was added to last first, of which the newest are read again and again.
import { GuildhandComment, GuildhandCommentRequest, GuildhandThreads, type GuildhandCommentData } from '@lantern/contract/network-http';
import { NetworkRefusal, type MessageThere, type MessagesThere } from './connector';
import { following, pause } from './following';
import { madeOnce, set } from './shared';

const ASK_EVERY_MS = 4_000;
/** Threads change places while pages are read: what is a little older than the newest that is known is looked at again. */
const OVERLAP_MS = 10_000;
const MOST_PAGES = 1_000;

export const guildhandMessages: MessagesThere = {
  async follow({ request }, eventId, cursor, keep, signal) {
    let since = (Number(cursor) || 0) - OVERLAP_MS;
    const known = new Set<string>();
    while (!signal.aborted) {
      const found: MessageThere[] = [];
      for (let page = 1, more = true; more && page <= MOST_PAGES && !signal.aborted; page++) {
        const reply = await request(`/guildhand/v2/talks/${eventId}/comments?page=${page}`, { reply: GuildhandThreads, ...following(signal) });
        const all = reply.data.flatMap(({ opening, replies }) => [there(opening, null), ...replies.map((each) => there(each, opening.id))]);
        found.push(...all.filter(({ writtenAt, id }) => writtenAt >= since && !known.has(id)));
        // Threads further down were added to earlier still.
        const last = reply.data.at(-1);
        more = reply.more && last !== undefined && Date.parse((last.replies.at(-1) ?? last.opening).attributes.written) >= since;
      }
      if (found.length) {
        const newest = Math.max(since + OVERLAP_MS, ...found.map(({ writtenAt }) => writtenAt));
        await keep({ messages: found.sort((a, b) => a.writtenAt - b.writtenAt), cursor: String(newest) });
        since = newest - OVERLAP_MS;
        for (const { id } of found) known.add(id);
        if (known.size > 5_000) known.clear();
      }
      await pause(ASK_EVERY_MS, signal);
    }
  },

  async write({ request }, eventId, words, answers, once) {
    const body: GuildhandCommentRequest = { data: { type: 'comment', attributes: { text: words, ...(answers !== null && { answers }) } } };
    const { data } = await request(`/guildhand/v2/talks/${eventId}/comments`, { reply: GuildhandComment, body, ...madeOnce(once) });
    return there(data, answers);
  },

  /** There a comment can only be taken away. One that is gone already is what was wanted. */
  async setHidden({ request }, messageId, hidden) {
    if (!hidden) throw new NetworkRefusal('gone', 'What was taken away on Guildhand is gone for good.', 409);
    await request(`/guildhand/v2/comments/${messageId}`, { reply: 'nothing', ...set('DELETE') }).catch((error: unknown) => {
      if (!(error instanceof NetworkRefusal && error.status === 404)) throw error;
    });
  },
};

const there = ({ id, attributes }: GuildhandCommentData, answers: string | null): MessageThere => ({
  ...{ id, writtenAt: Date.parse(attributes.written), writer: attributes.author, words: attributes.text, answers, hidden: false },
  standing: attributes.standing === 'organiser' ? 'own' : attributes.standing === 'member' ? 'member' : 'unknown',
});
