// A film on a line that breaks off again and again.
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { NetworkRefusal, NetworkSilence, type Access, type FilmsThere, type FilmThere } from '../channels/connectors/connector';
import { sendFilm } from './send-film';

const folder = mkdtempSync(join(tmpdir(), 'lantern-film-'));
const path = join(folder, 'film');
const FILM = Buffer.from(Array.from({ length: 1_000 }, (_, at) => (at * 7) % 251));
beforeAll(() => writeFileSync(path, FILM));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

type Way = 'comes' | 'is lost' | 'comes, and the answer is lost' | 'is half there' | 'is said to have come';

/** A network that takes pieces as `ways` say, and then as they come. */
class Taking implements Pick<FilmsThere, 'begin' | 'look' | 'send'> {
  readonly kept = new Map<string, Buffer>();
  constructor(private readonly ways: Way[] = []) {}

  private film(id: string): FilmThere {
    const there = this.kept.get(id)!.length;
    return { id, bytes: FILM.length, received: there, state: there === FILM.length ? 'ready' : 'receiving', words: '' };
  }
  async begin(_: Access, __: string, ___: number, once: string): Promise<FilmThere> {
    if (!this.kept.has(once)) this.kept.set(once, Buffer.alloc(0));
    return this.film(once);
  }
  async look(_: Access, id: string): Promise<FilmThere> {
    return this.film(id);
  }
  async send(_: Access, id: string, offset: number, piece: Buffer): Promise<FilmThere> {
    const way = this.ways.shift() ?? 'comes';
    const before = this.kept.get(id)!;
    if (offset !== before.length) throw new NetworkRefusal('offset', 'Go on elsewhere.', 409);
    if (way === 'is said to have come') return this.film(id);
    if (way !== 'is lost') this.kept.set(id, Buffer.concat([before, way === 'is half there' ? piece.subarray(0, piece.length >> 1) : piece]));
    if (way !== 'comes') throw new NetworkSilence('it hung up');
    return this.film(id);
  }
}

const send = (there: Taking, onSent: (sent: number) => Promise<boolean> = async () => true) =>
  sendFilm(there as unknown as FilmsThere, {} as Access, { eventId: 'e', path, bytes: FILM.length, once: 'one', onSent, pieceBytes: 300 });

test('broken five times, it is there once and every byte is right', async () => {
  const there = new Taking(['is lost', 'comes, and the answer is lost', 'is half there', 'is lost', 'comes, and the answer is lost']);
  expect((await send(there))?.state).toBe('ready');
  expect([...there.kept.keys()]).toEqual(['one']);
  expect(there.kept.get('one')!.equals(FILM)).toBe(true);
});

test('begun anew after a kill, it goes on where it was', async () => {
  const there = new Taking();
  const seen: number[] = [];
  // Nobody wants it any more after the second piece, as where a server is killed.
  expect(await send(there, async (sent) => sent < 600)).toBeNull();
  await send(there, async (sent) => seen.push(sent) > 0);
  expect(seen).toEqual([600, 900, 1_000]);
  expect(there.kept.get('one')!.equals(FILM)).toBe(true);
});

test('a network that says yes and never gets further is let rest too', async () => {
  const there = new Taking(Array<Way>(500).fill('is said to have come'));
  await expect(send(there)).rejects.toThrow('no more of them than before');
});

test('a line that takes nothing is let rest', async () => {
  const there = new Taking(Array<Way>(50).fill('is lost'));
  await expect(send(there)).rejects.toThrow(NetworkSilence);
});
