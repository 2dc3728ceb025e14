// What is said at Townfold's gatherings: an answer waits there until there is something new.
import {
  TownfoldBarring,
  TownfoldGathering,
  TownfoldGatheringEdit,
  TownfoldRemark,
  TownfoldRemarkChange,
  TownfoldRemarkRequest,
  TownfoldTalk,
} from '@lantern/contract/network-http';
import type { WriterStanding } from '@lantern/core';
import type { MessageThere, MessagesThere } from './connector';
import { following, pause } from './following';
import { madeOnce, set } from './shared';

const WAIT_S = 20;
/** A network that answers at once that there is nothing is not asked again at once. */
const LEAST_PAUSE_MS = 250;
const STANDING: Readonly<Record<string, WriterStanding>> = { host: 'own', follower: 'follower', 'passer-by': 'newcomer' };

export const townfoldMessages: MessagesThere = {
  async follow({ request }, eventId, cursor, keep, signal) {
    for (let after = Number(cursor) || 0; !signal.aborted;) {
      const path = `/townfold/open/gatherings/${eventId}/talk?after=${after}&wait=${WAIT_S}`;
      const { remarks, upto } = await request(path, { reply: TownfoldTalk, ...following(signal, WAIT_S * 1_000) });
      after = upto;
      if (remarks.length) await keep({ messages: remarks.map(there), cursor: String(upto) });
      else await pause(LEAST_PAUSE_MS, signal);
    }
  },

  async write({ request }, eventId, words, _answers, once) {
    const body: TownfoldRemarkRequest = { words };
    return there(await request(`/townfold/open/gatherings/${eventId}/talk`, { reply: TownfoldRemark, body, ...madeOnce(once) }));
  },

  async setHidden({ request }, messageId, hidden) {
    const body: TownfoldRemarkChange = { hidden };
    await request(`/townfold/open/remarks/${messageId}`, { reply: TownfoldRemark, ...set('POST', body) });
  },

  async setWriting({ request }, eventId, { messages, shortestMessage }) {
    const body: TownfoldGatheringEdit = {
      ...(messages !== undefined && { talk: messages as 'everyone' | 'followers' }),
      ...(shortestMessage !== undefined && { shortest_remark: shortestMessage }),
    };
    const now = await request(`/townfold/open/gatherings/${eventId}/edit`, { reply: TownfoldGathering, ...set('POST', body) });
    return { messages: now.talk, shortestMessage: now.shortest_remark };
  },

  async silence({ request }, messageId, silence) {
    const body: TownfoldBarring = { barred: silence !== 'no' };
    const { barred } = await request(`/townfold/open/remarks/${messageId}/speaker`, { reply: TownfoldBarring, ...set('POST', body) });
    return barred ? 'this show' : 'no';
  },
};

const there = ({ remark_ref, said_at, by, bond, words, hidden }: TownfoldRemark): MessageThere => ({
  ...{ id: remark_ref, writtenAt: said_at, writer: by, standing: STANDING[bond] ?? 'unknown', words, answers: null, hidden },
});
