// Makes a show's pictures from a few parts. What is seen is what the server will send: it draws each try.
import type { ArtworkView, CompositionPreview, ShowPictureName, ShowView } from '@lantern/contract';
import type { PictureRecipe } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { server, wordsOf } from '../app/server';
import { lookToBeginWith } from '../looks/look-content';
import { Notice } from '../look/Notice';
import { ARTWORK, useArtwork } from '../app/artwork';
import { PreviewWithMeasures } from './PreviewWithMeasures';
import { RecipeFields } from './RecipeFields';
import { PageTitle } from '../app/PageTitle';

const TRY_AFTER_MS = 180;

const FIRST: PictureRecipe = {
  layout: 'horizon',
  background: { kind: 'sky', mood: 'dusk', seed: 1 },
  lookId: null,
  title: '',
  when: 'day and time',
  line: '',
  portraits: true,
  mark: true,
};

export function ComposerView() {
  const { id } = useParams();
  const [asked] = useSearchParams();
  const which: ShowPictureName = asked.get('which') === 'waiting' ? 'waiting' : 'thumbnail';
  const show = useQuery({ queryKey: ['show', id], queryFn: () => server.get<ShowView>(`/api/shows/${id}`) });
  const artwork = useArtwork();
  const error = show.error ?? artwork.error;
  if (error) return <Notice kind="refusal">{wordsOf(error)}</Notice>;
  if (!show.data || !artwork.data) return null;
  return <Composer key={`${id} ${which}`} show={show.data} artwork={artwork.data} which={which} />;
}

/** Where a composition begins: what the picture is made of, what its companion is made of, or the look of the station. */
function firstRecipe(show: ShowView, { looks }: ArtworkView, which: ShowPictureName): PictureRecipe {
  const own = show[which]?.recipe ?? show[which === 'waiting' ? 'thumbnail' : 'waiting']?.recipe;
  const look = lookToBeginWith(looks);
  return own ?? (look ? { ...FIRST, lookId: look.id, layout: look.cards, background: look.background ?? FIRST.background } : FIRST);
}

function Composer({ show, artwork, which }: { show: ShowView; artwork: ArtworkView; which: ShowPictureName }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [recipe, setRecipe] = useState(() => firstRecipe(show, artwork, which));
  const [preview, setPreview] = useState<CompositionPreview | null>(null);
  const [trouble, setTrouble] = useState('');
  const [busy, setBusy] = useState(false);
  const [name, setName] = useState<string | null>(null);
  const [kept, setKept] = useState('');
  const change = (part: Partial<PictureRecipe>) => {
    setKept('');
    setRecipe({ ...recipe, ...part });
  };

  useEffect(() => {
    let late = false;
    const timer = setTimeout(() => {
      server.post<CompositionPreview>(`/api/shows/${show.id}/compositions/preview`, { which, recipe }).then(
        (made) => {
          if (late) return;
          setPreview(made);
          setTrouble('');
        },
        (error: unknown) => !late && setTrouble(wordsOf(error)),
      );
    }, TRY_AFTER_MS);
    return () => {
      late = true;
      clearTimeout(timer);
    };
  }, [show.id, show.version, which, recipe, artwork]);

  const act = async (work: () => Promise<void>) => {
    setBusy(true);
    setTrouble('');
    try {
      await work();
    } catch (error) {
      setTrouble(wordsOf(error));
    } finally {
      setBusy(false);
    }
  };
  const use = () =>
    act(async () => {
      queries.setQueryData(['show', show.id], await server.put<ShowView>(`/api/shows/${show.id}/compositions`, { which, recipe }));
      await navigate(`/shows/${show.id}#picture`);
    });
  const keep = () =>
    act(async () => {
      queries.setQueryData(ARTWORK, await server.post<ArtworkView>('/api/artwork/compositions', { name, showId: show.id, recipe }));
      setKept(name!.trim());
      setName(null);
    });
  const onAir = show.state === 'onAir' || show.state === 'interrupted';
  const editable = show.state === 'draft' || show.state === 'placed' || (onAir && which === 'thumbnail');

  return (
    <>
      <p className="mb-1">
        <Link to={`/shows/${show.id}#picture`}>{show.title || 'Untitled show'}</Link>
      </p>
      <PageTitle of={`${which === 'waiting' ? 'Waiting picture' : 'Thumbnail'} of ${show.title || 'a show'}`} />
      <h1 className="mb-2">{which === 'waiting' ? 'Waiting picture' : 'Thumbnail'}</h1>
      <nav className="sub-nav" aria-label="Pictures of the show">
        <Link to="?which=thumbnail" replace className={which === 'thumbnail' ? 'active' : ''} aria-current={which === 'thumbnail' ? 'page' : undefined}>
          In lists and on event pages
        </Link>
        <Link to="?which=waiting" replace className={which === 'waiting' ? 'active' : ''} aria-current={which === 'waiting' ? 'page' : undefined}>
          For early viewers, with the countdown
        </Link>
      </nav>
      <div className="with-side">
        <PreviewWithMeasures preview={preview} which={which} />
        <Form noValidate onSubmit={(event) => event.preventDefault()}>
          <RecipeFields show={show} artwork={artwork} recipe={recipe} preview={preview} change={change} onTrouble={setTrouble} />
          {trouble && <Notice kind="refusal">{trouble}</Notice>}
          <div className="composer-end">
            <Button disabled={busy || !editable || !preview} onClick={() => void use()}>
              Use this picture
            </Button>
            {name === null ? (
              <Button variant="quiet" size="sm" onClick={() => setName(show.title)}>
                Keep it in the library to begin others from
              </Button>
            ) : (
              <span className="d-flex gap-2 w-100">
                <Form.Control size="sm" aria-label="Name in the library" value={name} maxLength={80} onChange={({ target }) => setName(target.value)} />
                <Button variant="outline-primary" size="sm" disabled={busy || !name.trim()} onClick={() => void keep()}>
                  Keep
                </Button>
              </span>
            )}
            {kept && (
              <p className="small-words mb-0" role="status">
                “{kept}” is in the library.
              </p>
            )}
            <p className="soft small-words mb-0">
              {editable
                ? onAir
                  ? 'Used now, it stays as it is; the sheet then brings it to the channels that take it while they are on air.'
                  : 'It follows the show: a new title, time or guest makes it anew.'
                : onAir
                  ? 'Nobody waits any more: this one stays as it is.'
                  : 'This show is over or was withdrawn: its pictures stay as they are.'}
            </p>
          </div>
        </Form>
      </div>
    </>
  );
}
