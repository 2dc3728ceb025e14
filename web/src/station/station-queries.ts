import type { StationView } from '@lantern/contract';
import { useQuery } from '@tanstack/react-query';
import { server } from '../app/server';

export const useStation = () => useQuery({ queryKey: ['station'], queryFn: () => server.get<StationView>('/api/station') });
