import type { Me } from '@lantern/contract';
import { useQuery } from '@tanstack/react-query';
import { server } from '../app/server';

/** Who is signed in here. */
export const useMe = () => useQuery({ queryKey: ['me'], queryFn: () => server.get<Me>('/api/me') });
