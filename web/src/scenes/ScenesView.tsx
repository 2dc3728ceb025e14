// The station's scenes: what each looks like, moving, and the few things that can be chosen.
import type { SceneDraft, SceneView } from '@lantern/contract';
import { HOLDING, OWN_PALETTE, PEOPLE_SEATS } from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useBlocker, useNavigate, useParams } from 'react-router';
import { PageTitle } from '../app/PageTitle';
import { server, ServerError, wordsOf } from '../app/server';
import { canRunStage } from '../app/stage-support';
import { useArtwork } from '../artwork/artwork-queries';
import { AskedButton } from '../look/AskedButton';
import { Notice } from '../look/Notice';
import { useMe } from '../people/me';
import { SceneFields } from './SceneFields';
import { ScenePreview } from './ScenePreview';
import { SCENES, useScenes } from './scene-queries';
import { SceneSchematic } from './SceneSchematic';

const draftOf = ({ id: _id, revision: _revision, ...draft }: SceneView): SceneDraft => draft as SceneDraft;

export function ScenesView() {
  const { id = HOLDING } = useParams();
  const scenes = useScenes();
  // What was chosen and not kept yet, of each scene: going from one to another loses nothing.
  const [drafts, setDrafts] = useState<Readonly<Record<string, SceneDraft>>>({});
  const unkept = Object.keys(drafts).length > 0;
  useStay(unkept);
  if (scenes.error && !scenes.data) return <Notice kind="refusal">{wordsOf(scenes.error)}</Notice>;
  if (!scenes.data) return null;
  const scene = scenes.data.find((each) => each.id === id);
  const setDraft = (draft: SceneDraft | null) =>
    setDrafts((before) => {
      const after = { ...before };
      if (draft) after[id] = draft;
      else delete after[id];
      return after;
    });
  return (
    <>
      <PageTitle of="Scenes" />
      <h1 className="mb-2">Scenes</h1>
      <p className="soft mb-4">What a take brings to the programme. All shows of the station use these; on the stage they stand in this order.</p>
      <div className="scenes-page">
        <nav aria-label="Scenes">
          <ol className="scene-list">
            {scenes.data.map((each) => (
              <li key={each.id}>
                <Link to={`/scenes/${each.id}`} aria-current={each.id === id ? 'page' : undefined}>
                  <SceneSchematic scene={each} />
                  <span>
                    {(drafts[each.id] ?? each).name || 'Without a name'}
                    {drafts[each.id] && <span className="soft small-words d-block">Not kept yet</span>}
                  </span>
                </Link>
              </li>
            ))}
          </ol>
        </nav>
        {scene ? (
          <SceneEditor key={scene.id} scene={scene} all={scenes.data} draft={drafts[scene.id] ?? null} onDraft={setDraft} />
        ) : (
          <p>
            This scene is not there any more. <Link to="/scenes">To the holding card</Link>
          </p>
        )}
      </div>
    </>
  );
}

interface EditorProps {
  scene: SceneView;
  all: readonly SceneView[];
  draft: SceneDraft | null;
  onDraft: (draft: SceneDraft | null) => void;
}

function SceneEditor({ scene, all, draft, onDraft }: EditorProps) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const me = useMe();
  const { data: artwork } = useArtwork();
  const [people, setPeople] = useState(3);
  const [lookId, setLookId] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<{ words: string; fields: Partial<Record<string, string>>; theirs: boolean } | null>(null);
  const [busy, setBusy] = useState(false);
  const shown = draft ?? draftOf(scene);
  const look = artwork?.looks.find(({ id }) => id === lookId) ?? (lookId === null ? artwork?.looks[0] : undefined);
  const logoUrl = artwork?.pieces.find(({ id }) => id === look?.logoId)?.url ?? null;
  const [palette, setPalette] = useState(OWN_PALETTE);
  if (look && look.palette !== palette) setPalette(look.palette);
  if (!look && palette !== OWN_PALETTE) setPalette(OWN_PALETTE);

  const act = async (work: () => Promise<unknown>) => {
    setBusy(true);
    setTrouble(null);
    try {
      await work();
      await queries.invalidateQueries({ queryKey: SCENES });
    } catch (error) {
      const { fields = {}, status = 0 } = error instanceof ServerError ? error : {};
      setTrouble({ words: wordsOf(error), fields, theirs: status === 409 });
      // Theirs is what the next press is over.
      await queries.invalidateQueries({ queryKey: SCENES });
    } finally {
      setBusy(false);
    }
  };
  const keep = () =>
    act(async () => {
      await server.put(`/api/scenes/${scene.id}`, { ...shown, revision: scene.revision });
      onDraft(null);
    });
  const copy = () =>
    act(async () => {
      const { id } = await server.post<SceneView>('/api/scenes', { ...shown, card: shown.layout === 'card' ? 'closing' : null, name: copied(shown.name, all) });
      await queries.invalidateQueries({ queryKey: SCENES });
      await navigate(`/scenes/${id}`);
    });
  const remove = () =>
    act(async () => {
      await server.delete(`/api/scenes/${scene.id}`);
      onDraft(null);
      await navigate('/scenes');
    });
  const move = (by: -1 | 1) => {
    const ids = all.map(({ id }) => id);
    const at = ids.indexOf(scene.id);
    ids.splice(at, 1);
    ids.splice(at + by, 0, scene.id);
    void act(() => server.put('/api/scenes/in-order', { ids }));
  };
  const place = all.findIndex(({ id }) => id === scene.id);
  return (
    <div className="scene-editor">
      <div>
        {canRunStage() && me.data ? (
          <ScenePreview
            scene={{ ...shown, id: scene.id }}
            people={people}
            stationName={me.data.station.name}
            hostName={me.data.name}
            look={{ palette, logoUrl }}
          />
        ) : (
          <Notice kind="caution">This browser cannot draw a programme: the scene is shown in outline only. What you choose here is kept all the same.</Notice>
        )}
        <div className="preview-tries small-words">
          <label>
            With{' '}
            <Form.Select size="sm" value={people} onChange={({ target }) => setPeople(Number(target.value))}>
              {PEOPLE_SEATS.map((_, at) => (
                <option key={at} value={at + 1}>
                  {at ? `${at + 1} people` : 'the host alone'}
                </option>
              ))}
            </Form.Select>
          </label>
          {artwork && artwork.looks.length > 0 && (
            <label>
              In the look{' '}
              <Form.Select size="sm" value={look?.id ?? ''} onChange={({ target }) => setLookId(target.value)}>
                {artwork.looks.map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
                <option value="">The product’s own</option>
              </Form.Select>
            </label>
          )}
          <span className="soft">Only to look: the people of a show and its look fill it.</span>
        </div>
      </div>
      <div>
        <SceneFields id={scene.id} draft={shown} troubles={trouble?.fields ?? {}} onChange={onDraft} />
        {trouble && (
          <Notice kind={trouble.theirs ? 'caution' : 'refusal'}>
            {trouble.words}{' '}
            {trouble.theirs && draft && (
              <Button variant="quiet" size="sm" onClick={() => (onDraft(null), setTrouble(null))}>
                Take theirs
              </Button>
            )}
          </Notice>
        )}
        <div className="button-row mb-3">
          <Button disabled={!draft || busy} onClick={() => void keep()}>
            Keep
          </Button>
          {draft && (
            <Button variant="quiet" size="sm" onClick={() => (onDraft(null), setTrouble(null))}>
              As it was
            </Button>
          )}
          <span className="soft small-words" role="status">
            {draft ? 'Not kept yet' : 'Kept'}
          </span>
        </div>
        <div className="button-row">
          <Button variant="outline-primary" size="sm" disabled={busy} onClick={() => void copy()}>
            Make another from it
          </Button>
          <Button variant="quiet" size="sm" disabled={busy || place === 0} onClick={() => move(-1)}>
            Earlier in the list
          </Button>
          <Button variant="quiet" size="sm" disabled={busy || place === all.length - 1} onClick={() => move(1)}>
            Later
          </Button>
          {scene.id !== HOLDING && (
            <AskedButton
              label="Take out"
              question={`Take “${scene.name}” out? A stage on which it is in the programme shows the holding card.`}
              yes="Take out"
              onYes={() => void remove()}
              disabled={busy}
            />
          )}
        </div>
      </div>
    </div>
  );
}

/** A name that no other scene has. */
function copied(name: string, all: readonly SceneView[]): string {
  for (let number = 2; ; number++) {
    const made = `${name.replace(/ \d+$/, '').slice(0, 36)} ${number}`;
    if (!all.some((scene) => scene.name === made)) return made;
  }
}

/** What is not kept is not lost by a slip: the browser asks. */
function useStay(unkept: boolean): void {
  const blocker = useBlocker(({ nextLocation }) => unkept && !nextLocation.pathname.startsWith('/scenes'));
  useEffect(() => {
    if (blocker.state !== 'blocked') return;
    if (window.confirm('What you chose on this page is not kept yet. Leave it?')) blocker.proceed();
    else blocker.reset();
  }, [blocker]);
  useEffect(() => {
    if (!unkept) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [unkept]);
}
