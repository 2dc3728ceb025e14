// What the pages know of channels, and how it is brought up to date.
import type { ChannelView } from '@lantern/contract';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { server } from '../app/server';

export const useChannels = () => useQuery({ queryKey: ['channels'], queryFn: () => server.get<ChannelView[]>('/api/channels') });

/** Puts a channel that the server has just answered with in place of what was known of it. */
export function useKeepChannel(): (channel: ChannelView) => void {
  const queries = useQueryClient();
  return (channel) =>
    queries.setQueryData<ChannelView[]>(['channels'], (known) => known?.map((each) => (each.id === channel.id ? channel : each)) ?? [channel]);
}
