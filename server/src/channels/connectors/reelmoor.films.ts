// Films in the place of recordings on Reelmoor: sent in pieces, from where they broke off (“Resumable Uploads for HTTP”, IETF draft).
import { ReelmoorFilm, ReelmoorRecording } from '@lantern/contract/network-http';
import type { FilmsThere, FilmThere } from './connector';
import { madeOnce, set } from './shared';

/** A piece may take so long on a thin line. */
const PIECE_MAY_TAKE_MS = 60_000;
const filmOf = ({ filmId, bytes, received, state, words }: ReelmoorFilm): FilmThere => ({ id: filmId, bytes, received, state, words });

export const reelmoorFilms: FilmsThere = {
  begin: async ({ request }, eventId, bytes, once) =>
    filmOf(await request(`/reelmoor/api/broadcasts/${eventId}/films`, { reply: ReelmoorFilm, body: { bytes }, ...madeOnce(once) })),
  look: async ({ request }, filmId) => filmOf(await request(`/reelmoor/api/films/${filmId}`, { reply: ReelmoorFilm })),
  // Not sent again by itself: whether it came is asked first.
  send: async ({ request }, filmId, offset, piece) =>
    filmOf(
      await request(`/reelmoor/api/films/${filmId}`, {
        ...{ reply: ReelmoorFilm, method: 'PATCH', body: piece, tries: 1, timeoutMs: PIECE_MAY_TAKE_MS },
        headers: { 'content-type': 'application/octet-stream', 'upload-offset': String(offset) },
      }),
    ),
  setCaptions: async ({ request }, filmId, language, vtt) => {
    await request(`/reelmoor/api/films/${filmId}/captions`, { reply: 'nothing', ...set('PUT', { language, vtt }) });
  },
  show: async ({ request }, eventId, shows, filmId) => {
    await request(`/reelmoor/api/broadcasts/${eventId}/recording`, { reply: ReelmoorRecording, ...set('PUT', { shows, ...(filmId && { filmId }) }) });
  },
  shown: async ({ request }, eventId) => {
    const { shows, filmId } = await request(`/reelmoor/api/broadcasts/${eventId}/recording`, { reply: ReelmoorRecording });
    return { shows, filmId };
  },
};
