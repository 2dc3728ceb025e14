// The messages of a show as they come: what is new is asked for, never the whole list again.
import type { MessagesView, MessageSource, MessageView } from '@lantern/contract';
import { NO_RULES, withChanges, type HoldingRules } from '@lantern/core';
import { useQuery, type QueryClient } from '@tanstack/react-query';
import { useAskEvery } from '../app/changes';
import { server } from '../app/server';

/** More nobody scrolls through; older ones are kept on the server. */
const MOST_HERE = 5_000;
/** Asked for so often where nothing is heard of changes. */
const ASK_EVERY_MS = 3_000;

export interface Mailbag {
  rules: HoldingRules;
  prepared: readonly string[];
  sources: readonly MessageSource[];
  messages: readonly MessageView[];
  revision: number;
}

export const messagesPath = (showId: string): string => `/api/shows/${showId}/messages`;
export const mailbagKey = (showId: string): readonly string[] => ['messages', showId];

export function useMailbag(showId: string) {
  const refetchInterval = useAskEvery(ASK_EVERY_MS);
  return useQuery({ queryKey: mailbagKey(showId), queryFn: ({ client }) => news(client, showId), refetchInterval, structuralSharing: false });
}

async function news(client: QueryClient, showId: string): Promise<Mailbag> {
  let mailbag = client.getQueryData<Mailbag>(mailbagKey(showId)) ?? { rules: NO_RULES, prepared: [], sources: [], messages: [], revision: 0 };
  for (let more = true; more;) {
    const view = await server.get<MessagesView>(`${messagesPath(showId)}?since=${mailbag.revision}`);
    const messages = view.messages.length ? withChanges(mailbag.messages, view.messages, MOST_HERE) : mailbag.messages;
    mailbag = { rules: view.rules, prepared: view.prepared, sources: view.sources, messages, revision: view.revision };
    more = view.more;
  }
  return mailbag;
}
