import type { SceneView } from '@lantern/contract';
import { useQuery } from '@tanstack/react-query';
import { server } from '../app/server';

export const SCENES = ['scenes'];

/** The station's scenes, in its order. */
export const useScenes = () => useQuery({ queryKey: SCENES, queryFn: () => server.get<SceneView[]>('/api/scenes') });
