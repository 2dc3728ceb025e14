// A look pack that somebody else has handed over: what is in it, what it would do, and only then taken.
import type { LookView, PackedUse, PackView } from '@lantern/contract';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { server, wordsOf } from '../app/server';
import { FileInput } from '../look/FileInput';
import { Notice } from '../look/Notice';
import { ARTWORK } from '../app/artwork';
import { CARD_WORDS, STRAP_WORDS } from './look-words';
import { LookSample } from './LookSample';
import { LookUse } from './LookUse';

const USES: Record<PackedUse, string> = {
  logo: 'its mark',
  sponsor: 'a sponsor’s mark',
  background: 'to lie behind the words',
  'behind all': 'to lie behind cards and people',
};
const BEHIND = { evening: 'an evening in its ground colour', sky: 'a drawn sky', colour: 'its ground colour', picture: 'a picture' };

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
      <FileInput accept=".zip,application/zip" onFile={(chosen) => void open(chosen)}>
        Open a look pack…
      </FileInput>
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      {seen && (
        <div className="look-pack small-words" role="group" aria-label={`The look pack ${seen.name}`}>
          <LookSample look={{ ...seen, logoUrl: seen.pictures.find(({ use }) => use === 'logo')?.picture ?? null }} />
          <p className="mb-1">
            For all pictures that you compose, and for the programme. Names {STRAP_WORDS[seen.straps]}, cards {CARD_WORDS[seen.cards]},{' '}
            {BEHIND[seen.behind ?? 'evening']} behind them{seen.sponsorsInCorner ? ', sponsors in a corner by turns' : ''}.
          </p>
          <p className="mb-1">
            {(['display', 'text'] as const).map((face) => (
              <span key={face} className="d-block">
                {face === 'display' ? 'Headings' : 'All else'} in <b>{seen.letters[face].name}</b>
                {seen.letters[face].own && <span className="soft">, in this file: {seen.letters[face].rights || 'nobody has said by what right'}</span>}
              </span>
            ))}
          </p>
          {seen.pictures.length > 0 && (
            <ul className="pack-pictures">
              {seen.pictures.map(({ name, alternative, rights, use, picture }) => (
                <li key={`${use} ${name}`}>
                  <img src={picture} alt={alternative || name} className={use === 'logo' || use === 'sponsor' ? 'mark' : undefined} />
                  <span>
                    <b>{name}</b>, {USES[use]}
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
      {taken && (
        <div className="look-pack small-words">
          <Notice kind="done">
            “{taken.name}” is in the library. <Link to={`/looks/${taken.id}`}>See it</Link>
          </Notice>
          <LookUse look={taken} />
        </div>
      )}
    </>
  );
}
