import type { ArtworkView } from '@lantern/contract';
import { useQuery } from '@tanstack/react-query';
import { server } from './server';

export const ARTWORK = ['artwork'];

/** The station's library of pictures, and its looks. */
export const useArtwork = () => useQuery({ queryKey: ARTWORK, queryFn: () => server.get<ArtworkView>('/api/artwork') });
