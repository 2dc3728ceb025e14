// A film on its way to a network: piece by piece, and from where it broke off.
import { open } from 'node:fs/promises';
import { NetworkRefusal, NetworkSilence, type Access, type FilmsThere, type FilmThere } from '../channels/connectors/connector';
import { NotDone } from '../jobs/jobs.service';

const PIECE_BYTES = 4_000_000;
/** A line that breaks off again and again is let rest. */
const BREAKS_MAX = 8;

export interface FilmOrder {
  eventId: string;
  path: string;
  bytes: number;
  /** Names the film: announced again with the same, it is the same one. */
  once: string;
  /** So many bytes are there; false: nobody wants it any more. */
  onSent: (sent: number) => Promise<boolean>;
  pieceBytes?: number;
}

/** Sends what the network has not got yet; null: nobody wants it any more. Throws NotDone where it is refused or breaks off too often. */
export async function sendFilm(films: FilmsThere, access: Access, order: FilmOrder): Promise<FilmThere | null> {
  const { eventId, path, bytes, once, onSent, pieceBytes = PIECE_BYTES } = order;
  let film = await films.begin(access, eventId, bytes, once);
  const file = await open(path);
  try {
    const piece = Buffer.alloc(pieceBytes);
    for (let breaks = 0; film.state === 'receiving';) {
      const before = film.received;
      if (!(await onSent(before))) return null;
      const { bytesRead } = await file.read(piece, 0, pieceBytes, film.received);
      if (bytesRead === 0) throw new NotDone('The film is shorter than it was. It is sent anew.');
      try {
        film = await films.send(access, film.id, film.received, piece.subarray(0, bytesRead));
      } catch (error) {
        const isBreak = error instanceof NetworkSilence || (error instanceof NetworkRefusal && error.status === 409);
        if (!isBreak || ++breaks > BREAKS_MAX) throw error;
        // Whether it came only they know.
        film = await films.look(access, film.id);
        continue;
      }
      if (film.state === 'receiving' && film.received <= before && ++breaks > BREAKS_MAX)
        throw new NotDone('It takes pieces, and has no more of them than before.');
    }
  } finally {
    await file.close();
  }
  if (film.state === 'refused') throw new NotDone(`It was refused: ${film.words}`, true);
  return (await onSent(bytes)) ? film : null;
}
