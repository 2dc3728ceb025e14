// The station's looks: each as it goes out, live, beside the few things that are chosen of it.
import type { ArtworkView, LookDraft, LookView } from '@lantern/contract';
import { OWN_LOOK } from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useNavigate, useParams } from 'react-router';
import { useActs, useDrafts } from '../app/drafts';
import { PageTitle } from '../app/PageTitle';
import { server, ServerError, wordsOf } from '../app/server';
import { useStay } from '../app/stay';
import { ARTWORK, useArtwork } from '../app/artwork';
import { Notice } from '../look/Notice';
import { LookFields } from './LookFields';
import { LookPack } from './LookPack';
import { LookProofs } from './LookProofs';
import { LookUse } from './LookUse';

const NEW = 'new';
const FRESH: LookDraft = { ...OWN_LOOK, name: '', sponsors: [] };

const draftOf = ({ id: _id, forStation: _forStation, revision: _revision, ...draft }: LookView): LookDraft => draft;

export function LooksView() {
  const { id } = useParams();
  const artwork = useArtwork();
  const { drafts, setDraft } = useDrafts<LookDraft>();
  useStay(Object.keys(drafts).length > 0, '/looks');
  if (artwork.error && !artwork.data) return <Notice kind="refusal">{wordsOf(artwork.error)}</Notice>;
  if (!artwork.data) return null;
  const { looks } = artwork.data;
  const shown = id ?? (looks.find(({ forStation }) => forStation) ?? looks[0])?.id ?? NEW;
  const look = looks.find((each) => each.id === shown) ?? null;
  return (
    <>
      <PageTitle of="Looks" />
      <h1 className="mb-2">Looks</h1>
      <p className="soft mb-2">Colours, letters and marks for all your pictures and programmes: chosen once, and changed in one place.</p>
      <div className="mb-4">
        <LookPack />
      </div>
      <div className="scenes-page looks-page">
        <nav aria-label="Looks">
          <ol className="scene-list">
            {looks.map((each) => (
              <li key={each.id}>
                <Link to={`/looks/${each.id}`} aria-current={each.id === shown ? 'page' : undefined}>
                  <Chips look={drafts[each.id] ?? each} />
                  <span>
                    {(drafts[each.id] ?? each).name || 'Without a name'}
                    {each.forStation && <span className="soft small-words d-block">The station’s</span>}
                    {drafts[each.id] && <span className="soft small-words d-block">Not kept yet</span>}
                  </span>
                </Link>
              </li>
            ))}
            <li>
              <Link to={`/looks/${NEW}`} aria-current={shown === NEW ? 'page' : undefined}>
                <Chips look={drafts[NEW] ?? FRESH} />
                <span>A new look</span>
              </Link>
            </li>
          </ol>
        </nav>
        {look || shown === NEW ? (
          <LookEditor key={shown} look={look} artwork={artwork.data} draft={drafts[shown] ?? null} onDraft={setDraft(shown)} />
        ) : (
          <p>
            This look is not there any more. <Link to="/looks">To the looks</Link>
          </p>
        )}
      </div>
    </>
  );
}

/** Its three colours. */
const Chips = ({ look: { palette } }: { look: Pick<LookDraft, 'palette'> }) => (
  <span className="look-chips" aria-hidden="true">
    {(['ground', 'ink', 'accent'] as const).map((part) => (
      <span key={part} style={{ background: palette[part] }} />
    ))}
  </span>
);

interface EditorProps {
  /** Null: it is a new one. */
  look: LookView | null;
  artwork: ArtworkView;
  draft: LookDraft | null;
  onDraft: (draft: LookDraft | null) => void;
}

function LookEditor({ look, artwork, draft, onDraft }: EditorProps) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [inUse, setInUse] = useState('');
  const { trouble, setTrouble, busy, act } = useActs(() => queries.invalidateQueries({ queryKey: ARTWORK }));
  const shown = draft ?? (look ? draftOf(look) : FRESH);
  const keep = () =>
    act(async () => {
      const kept = look
        ? await server.put<LookView>(`/api/looks/${look.id}`, { ...shown, revision: look.revision })
        : await server.post<LookView>('/api/looks', shown);
      queries.setQueryData<ArtworkView>(ARTWORK, (before) => before && { ...before, looks: [...before.looks.filter(({ id }) => id !== kept.id), kept] });
      onDraft(null);
      if (!look) await navigate(`/looks/${kept.id}`);
    });
  const remove = (meant: boolean) =>
    act(async () => {
      setInUse('');
      try {
        await server.delete(`/api/looks/${look!.id}${meant ? '?meant=yes' : ''}`);
      } catch (error) {
        // Whoever takes it out all the same says so.
        if (!(error instanceof ServerError && error.status === 409)) throw error;
        return setInUse(error.words);
      }
      onDraft(null);
      await navigate('/looks');
    });
  return (
    <div className="scene-editor">
      <div>
        <LookProofs look={shown} pieces={artwork.pieces} />
      </div>
      <div>
        <div className="look-kept">
          {trouble && (
            <Notice kind={trouble.theirs ? 'caution' : 'refusal'}>
              {trouble.words}{' '}
              {trouble.theirs && draft && look && (
                <Button variant="quiet" size="sm" onClick={() => (onDraft(null), setTrouble(null))}>
                  Take theirs
                </Button>
              )}
            </Notice>
          )}
          <div className="button-row">
            <Button disabled={!draft || busy || !shown.name.trim()} onClick={() => void keep()}>
              Keep
            </Button>
            {draft && (
              <Button variant="quiet" size="sm" onClick={() => (onDraft(null), setTrouble(null))}>
                As it was
              </Button>
            )}
            <span className="soft small-words" role="status">
              {draft ? (shown.name.trim() ? 'Not kept yet' : 'Give it a name, then keep it') : look ? 'Kept' : ''}
            </span>
          </div>
        </div>
        <LookFields look={shown} artwork={artwork} troubles={trouble?.fields ?? {}} onChange={onDraft} />
        {look && (
          <>
            <fieldset className="scene-part">
              <legend>Use it</legend>
              <div>
                <LookUse look={look} />
              </div>
            </fieldset>
            <div className="button-row">
              <a className="btn btn-quiet btn-sm" href={`/api/looks/${look.id}/pack`} download>
                As a file, for others
              </a>
              <Button variant="quiet" size="sm" disabled={busy} onClick={() => void remove(false)}>
                Take out
              </Button>
            </div>
            {shown.stingId !== null && <p className="soft small-words">Its sting stays here: clips are not handed over.</p>}
          </>
        )}
        {inUse && (
          <Notice kind="caution">
            {inUse} They take the product’s own colours then.{' '}
            <Button variant="quiet" size="sm" onClick={() => void remove(true)}>
              Take it out all the same
            </Button>
          </Notice>
        )}
      </div>
    </div>
  );
}
