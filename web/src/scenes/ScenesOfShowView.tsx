// The scenes of one show: the station's, and what is other than theirs in this show alone.
import type { SaveResult, SceneDraft, ShowView } from '@lantern/contract';
import { HOLDING, plainScene, scenesOfShow, type Scene } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button } from 'react-bootstrap';
import { Link, useParams } from 'react-router';
import { useActs, useDrafts } from '../app/drafts';
import { PageTitle } from '../app/PageTitle';
import { server, ServerError, wordsOf } from '../app/server';
import { useStay } from '../app/stay';
import { useArtwork } from '../app/artwork';
import { Notice } from '../look/Notice';
import { lookOfShow } from '../looks/look-content';
import { SceneDesk, SceneList } from './SceneDesk';
import { useScenes } from './scene-queries';

const draftOf = ({ id: _id, ...draft }: Scene): SceneDraft => draft as SceneDraft;

export function ScenesOfShowView() {
  const { id, scene: shown = HOLDING } = useParams();
  const show = useQuery({ queryKey: ['show', id], queryFn: () => server.get<ShowView>(`/api/shows/${id}`) });
  const station = useScenes();
  const { drafts, setDraft } = useDrafts<SceneDraft>();
  useStay(Object.keys(drafts).length > 0, `/shows/${id}/scenes`);
  const error = show.error ?? station.error;
  if (error) return <Notice kind="refusal">{wordsOf(error)}</Notice>;
  if (!show.data || !station.data) return null;
  const { title, scenes: own } = show.data;
  const all = scenesOfShow(station.data, own);
  const scene = all.find((each) => each.id === shown);
  const isOwn = (of: string) => own.some((each) => each.id === of);
  return (
    <>
      <p className="mb-1">
        <Link to={`/shows/${id}#graphics`}>{title || 'Untitled show'}</Link>
      </p>
      <PageTitle of={`Scenes of ${title || 'a show'}`} />
      <h1 className="mb-2">Scenes of this show</h1>
      <p className="soft mb-4">
        The <Link to="/scenes">station’s scenes</Link>. What you change here is other than theirs in this show alone.
      </p>
      <div className="scenes-page">
        <SceneList
          scenes={all}
          drafts={drafts}
          shown={shown}
          at={(of) => `/shows/${id}/scenes/${of}`}
          note={({ id: of }) => (isOwn(of) ? 'Other than the station’s' : null)}
        />
        {scene ? (
          <OwnScene
            key={scene.id}
            show={show.data}
            scene={scene}
            isOwn={isOwn(scene.id)}
            atStation={station.data.some((each) => each.id === scene.id)}
            draft={drafts[scene.id] ?? null}
            onDraft={setDraft(scene.id)}
          />
        ) : (
          <p>
            This scene is not there any more. <Link to={`/shows/${id}/scenes`}>To the holding card</Link>
          </p>
        )}
      </div>
    </>
  );
}

interface SceneProps {
  show: ShowView;
  scene: Scene;
  isOwn: boolean;
  /** Whether the station still has it. */
  atStation: boolean;
  draft: SceneDraft | null;
  onDraft: (draft: SceneDraft | null) => void;
}

function OwnScene({ show, scene, isOwn, atStation, draft, onDraft }: SceneProps) {
  const queries = useQueryClient();
  const looks = useArtwork().data?.looks ?? [];
  const acts = useActs(() => queries.invalidateQueries({ queryKey: ['show', show.id] }));
  const put = (own: Scene | null) =>
    acts.act(async () => {
      const others = show.scenes.filter(({ id }) => id !== scene.id);
      const { conflicts } = await server.patch<SaveResult>(`/api/shows/${show.id}`, {
        base: show.version,
        changes: { scenes: own ? [...others, own] : others },
      });
      if (conflicts.length)
        throw new ServerError(409, 'Somebody else has changed scenes of this show meanwhile. What you chose is still here: keep it again, or take theirs.');
      onDraft(null);
    });
  const shown = draft ?? draftOf(scene);
  return (
    <SceneDesk
      scene={scene}
      kept={draftOf(scene)}
      draft={draft}
      onDraft={onDraft}
      acts={acts}
      onKeep={() => void put(plainScene({ ...shown, id: scene.id }))}
      look={lookOfShow(show, looks)}
    >
      {isOwn && (
        <Button variant="outline-primary" size="sm" disabled={acts.busy} onClick={() => void put(null)}>
          {atStation ? 'As at the station again' : 'Take out'}
        </Button>
      )}
    </SceneDesk>
  );
}
