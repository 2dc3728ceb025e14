import type { PlanView, StationView } from '@lantern/contract';
import { useQuery } from '@tanstack/react-query';
import { server } from '../app/server';

export const useStation = () => useQuery({ queryKey: ['station'], queryFn: () => server.get<StationView>('/api/station') });

/** What takes which line and whom in the next half year. */
export const usePlan = () => useQuery({ queryKey: ['plan'], queryFn: () => server.get<PlanView>('/api/plan') });
