// A look pack that somebody else has handed over: what is in it, what it would do, and only then taken.
import type { LookView, PackView, ShowSummary, ShowView } from '@lantern/contract';
import { instant, sayNear } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { serverNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { ARTWORK } from './artwork-queries';
import { LookSample, STRAP_WORDS } from './LookSample';

export function LookPack() {
  const queries = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const [seen, setSeen] = useState<PackView | null>(null);
  const [taken, setTaken] = useState<LookView | null>(null);
  const [trouble, setTrouble] = useState('');
  const [busy, setBusy] = useState(false);
  const act = async (work: () => Promise<void>) => {
    setTrouble('');
    setBusy(true);
    await work().catch((error: unknown) => setTrouble(wordsOf(error)));
    setBusy(false);
  };
  const open = (chosen: File) =>
    act(async () => {
      setTaken(null);
      setSeen(null);
      setFile(chosen);
      setSeen(await server.post<PackView>('/api/looks/packs/open', chosen));
    });
  const take = () =>
    act(async () => {
      setTaken(await server.post<LookView>('/api/looks/packs', file!));
      setSeen(null);
      await queries.invalidateQueries({ queryKey: ARTWORK });
    });
  return (
    <>
      <label className="btn btn-quiet btn-sm file-button">
        <input
          type="file"
          className="visually-hidden"
          accept=".zip,application/zip"
          onChange={({ target }) => {
            const [chosen] = target.files ?? [];
            target.value = '';
            if (chosen) void open(chosen);
          }}
        />
        Open a look pack…
      </label>
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      {seen && (
        <div className="look-pack small-words" role="group" aria-label={`The look pack ${seen.name}`}>
          <LookSample look={{ ...seen, logoUrl: seen.pictures.find(({ use }) => use === 'logo')?.picture ?? null }} />
          <p className="mb-1">Its colours are for all pictures that you compose and for the programme. {STRAP_WORDS[seen.straps]}.</p>
          {seen.pictures.length > 0 && (
            <ul className="pack-pictures">
              {seen.pictures.map(({ name, alternative, rights, use, picture }) => (
                <li key={`${use} ${name}`}>
                  <img src={picture} alt={alternative || name} />
                  <span>
                    <b>{name}</b>, {use === 'logo' ? 'its mark' : 'to lie behind the words'}
                    <span className="soft d-block">{rights || 'nobody has said whose it is'}</span>
                  </span>
                </li>
              ))}
            </ul>
          )}
          {seen.collides.map((words) => (
            <Notice key={words} kind="caution">
              {words}
            </Notice>
          ))}
          <span className="button-row">
            <Button variant="outline-primary" size="sm" disabled={busy} onClick={() => void take()}>
              Take it into the library
            </Button>
            <Button variant="quiet" size="sm" onClick={() => setSeen(null)}>
              Leave it
            </Button>
          </span>
        </div>
      )}
      {taken && <UseFor look={taken} />}
    </>
  );
}

/** The coming shows whose pictures can be made with it. */
function UseFor({ look }: { look: LookView }) {
  const queries = useQueryClient();
  const shows = useQuery({ queryKey: ['shows'], queryFn: () => server.get<ShowSummary[]>('/api/shows') }).data ?? [];
  const [said, setSaid] = useState<{ kind: 'done' | 'refusal'; words: string }>({ kind: 'done', words: `“${look.name}” is in the library.` });
  const coming = shows.filter(({ state, hasPicture }) => hasPicture && (state === 'draft' || state === 'placed'));
  const use = async (showId: string) => {
    try {
      const { title } = await server.put<ShowView>(`/api/shows/${showId}/look`, { lookId: look.id });
      setSaid({ kind: 'done', words: `The pictures of “${title}” are made with “${look.name}”.` });
      await queries.invalidateQueries({ queryKey: ['show', showId] });
    } catch (error) {
      setSaid({ kind: 'refusal', words: wordsOf(error) });
    }
  };
  return (
    <div className="look-pack small-words">
      <Notice kind={said.kind}>{said.words}</Notice>
      {coming.length > 0 && (
        <Form.Select
          size="sm"
          className="w-auto"
          aria-label={`Use ${look.name} for`}
          value=""
          onChange={({ target }) => target.value && void use(target.value)}
        >
          <option value="">Use it for a coming show…</option>
          {coming.map(({ id, title, startsAt, zone }) => (
            <option key={id} value={id}>
              {title}, {sayNear(instant(startsAt), zone, instant(serverNow()))}
            </option>
          ))}
        </Form.Select>
      )}
    </div>
  );
}
