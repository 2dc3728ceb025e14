import type { OutsideLineView } from '@lantern/contract';
import { useQuery } from '@tanstack/react-query';
import { server } from '../app/server';

const ASK_EVERY_MS = 3_000;
export const OUTSIDE_KEY = ['outside-lines'];

/** The station's outside lines, with what comes on them; `watched`: asked again and again, since an encoder may begin at any moment. */
export const useOutsideLines = (watched = false) =>
  useQuery({ queryKey: OUTSIDE_KEY, queryFn: () => server.get<OutsideLineView[]>('/api/outside-lines'), refetchInterval: watched ? ASK_EVERY_MS : false });
