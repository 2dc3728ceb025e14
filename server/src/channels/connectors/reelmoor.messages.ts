// Reelmoor's messages, which are read with a cursor.
import {
  ReelmoorBroadcast,
  ReelmoorBroadcastChange,
  ReelmoorMessage,
  ReelmoorMessageChange,
  ReelmoorMessagePage,
  ReelmoorMessageRequest,
} from '@lantern/contract/network-http';
import type { WriterStanding } from '@lantern/core';
import type { MessageThere, MessagesThere } from './connector';
import { following, pause } from './following';
import { madeOnce, set } from './shared';

const ASK_EVERY_MS = 1_500;
const STANDING: Readonly<Record<string, WriterStanding>> = { 'this channel': 'own', follower: 'follower', newcomer: 'newcomer' };

export const reelmoorMessages: MessagesThere = {
  async follow({ request }, eventId, cursor, keep, signal) {
    for (let next = cursor; !signal.aborted;) {
      const after = next && `?cursor=${encodeURIComponent(next)}`;
      const { items, nextCursor } = await request(`/reelmoor/api/broadcasts/${eventId}/messages${after}`, { reply: ReelmoorMessagePage, ...following(signal) });
      next = nextCursor;
      if (items.length) await keep({ messages: items.map(there), cursor: nextCursor });
      else await pause(ASK_EVERY_MS, signal);
    }
  },

  async write({ request }, eventId, words, answers, once) {
    const body: ReelmoorMessageRequest = { text: words, ...(answers !== null && { replyTo: answers }) };
    return there(await request(`/reelmoor/api/broadcasts/${eventId}/messages`, { reply: ReelmoorMessage, body, ...madeOnce(once) }));
  },

  async setHidden({ request }, messageId, hidden) {
    const body: ReelmoorMessageChange = { hidden };
    await request(`/reelmoor/api/messages/${messageId}`, { reply: ReelmoorMessage, ...set('PATCH', body) });
  },

  async setWriters({ request }, eventId, writers) {
    const body: ReelmoorBroadcastChange = { messages: writers as 'everyone' | 'followers' | 'off' };
    return (await request(`/reelmoor/api/broadcasts/${eventId}`, { reply: ReelmoorBroadcast, ...set('PATCH', body) })).messages;
  },
};

const there = ({ messageId, writtenAt, writerName, writerIs, text, replyTo, hidden }: ReelmoorMessage): MessageThere => ({
  ...{ id: messageId, writtenAt: Date.parse(writtenAt), writer: writerName, standing: STANDING[writerIs] ?? 'unknown', words: text },
  ...{ answers: replyTo, hidden },
});
