// Reelmoor's messages, which are read with a cursor.
import {
  ReelmoorBroadcast,
  ReelmoorBroadcastChange,
  ReelmoorMessage,
  ReelmoorMessageChange,
  ReelmoorMessagePage,
  ReelmoorMessageRequest,
  ReelmoorMuting,
} from '@lantern/contract/network-http';
import { MINUTE_MS, WRITER_SILENT_MS, type WriterStanding } from '@lantern/core';
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

  async setWriting({ request }, eventId, { messages, messagesEveryS, writersAgedDays }) {
    const body: ReelmoorBroadcastChange = {
      ...(messages !== undefined && { messages: messages as 'everyone' | 'followers' | 'off' }),
      ...(messagesEveryS !== undefined && { messageEverySeconds: messagesEveryS }),
      ...(writersAgedDays !== undefined && { writerAgeDays: writersAgedDays }),
    };
    const now = await request(`/reelmoor/api/broadcasts/${eventId}`, { reply: ReelmoorBroadcast, ...set('PATCH', body) });
    return { messages: now.messages, messagesEveryS: now.chosen.messageEverySeconds, writersAgedDays: now.chosen.writerAgeDays };
  },

  async silence({ request }, messageId, silence) {
    const body: ReelmoorMuting = { minutes: { no: 0, 'ten minutes': WRITER_SILENT_MS / MINUTE_MS, 'this show': null }[silence] };
    const { minutes } = await request(`/reelmoor/api/messages/${messageId}/writer`, { reply: ReelmoorMuting, ...set('PUT', body) });
    return minutes === null ? 'this show' : minutes > 0 ? 'ten minutes' : 'no';
  },
};

const there = ({ messageId, writtenAt, writerName, writerIs, text, replyTo, hidden }: ReelmoorMessage): MessageThere => ({
  ...{ id: messageId, writtenAt: Date.parse(writtenAt), writer: writerName, standing: STANDING[writerIs] ?? 'unknown', words: text },
  ...{ answers: replyTo, hidden },
});
