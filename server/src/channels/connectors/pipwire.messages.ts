// Replies to Pipwire's casts, which come on a socket.
import { PipwireFold, PipwireHush, PipwireReply, PipwireReplyRequest } from '@lantern/contract/network-http';
import type { WriterStanding } from '@lantern/core';
import { NetworkSilence, type MessageThere, type MessagesThere } from './connector';
import { decoded } from './network-http';
import { set } from './shared';

const STANDING: Readonly<Record<string, WriterStanding>> = { own: 'own', follower: 'follower', newcomer: 'newcomer' };

export const pipwireMessages: MessagesThere = {
  async follow({ socket }, eventId, cursor, keep, signal) {
    const opened = await socket(`/pipwire/1/casts/${eventId}/replies/feed?after=${Number(cursor) || 0}`);
    for await (const frames of opened.frames(signal)) {
      const replies = frames.map(read);
      await keep({ messages: replies.map(there), cursor: String(replies.at(-1)!.place) });
    }
  },

  async write({ request }, eventId, words, answers, once) {
    const body: PipwireReplyRequest = { say: words, nonce: once, ...(answers !== null && { to: answers }) };
    return there(await request(`/pipwire/1/casts/${eventId}/replies`, { reply: PipwireReply, ...set('POST', body) }));
  },

  async setHidden({ request }, messageId, hidden) {
    const body: PipwireFold = { folded: hidden };
    await request(`/pipwire/1/replies/${messageId}/fold`, { reply: PipwireReply, ...set('POST', body) });
  },

  async silence({ request }, messageId, silence) {
    const body: PipwireHush = { hushed: silence !== 'no' };
    const { hushed } = await request(`/pipwire/1/replies/${messageId}/hush`, { reply: PipwireHush, ...set('POST', body) });
    return hushed ? 'this show' : 'no';
  },
};

function read(frame: string): PipwireReply {
  let body: unknown;
  try {
    body = JSON.parse(frame);
  } catch {
    throw new NetworkSilence('its answer could not be read');
  }
  return decoded(body, PipwireReply);
}

const there = ({ reply, at, from, who, say, to, folded }: PipwireReply): MessageThere => ({
  ...{ id: reply, writtenAt: at, writer: from, standing: STANDING[who] ?? 'unknown', words: say, answers: to, hidden: folded },
});
