// The station's scenes: what each looks like, moving, and the few things that can be chosen.
import type { SceneDraft, SceneView } from '@lantern/contract';
import { HOLDING } from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { Button } from 'react-bootstrap';
import { Link, useNavigate, useParams } from 'react-router';
import { useActs, useDrafts } from '../app/drafts';
import { PageTitle } from '../app/PageTitle';
import { server, wordsOf } from '../app/server';
import { useStay } from '../app/stay';
import { AskedButton } from '../look/AskedButton';
import { Notice } from '../look/Notice';
import { SceneDesk, SceneList } from './SceneDesk';
import { SCENES, useScenes } from './scene-queries';

const draftOf = ({ id: _id, revision: _revision, ...draft }: SceneView): SceneDraft => draft as SceneDraft;

export function ScenesView() {
  const { id = HOLDING } = useParams();
  const scenes = useScenes();
  const { drafts, setDraft } = useDrafts<SceneDraft>();
  useStay(Object.keys(drafts).length > 0, '/scenes');
  if (scenes.error && !scenes.data) return <Notice kind="refusal">{wordsOf(scenes.error)}</Notice>;
  if (!scenes.data) return null;
  const scene = scenes.data.find((each) => each.id === id);
  return (
    <>
      <PageTitle of="Scenes" />
      <h1 className="mb-2">Scenes</h1>
      <p className="soft mb-4">What a take brings to the programme. All shows of the station use these; on the stage they stand in this order.</p>
      <div className="scenes-page">
        <SceneList scenes={scenes.data} drafts={drafts} shown={id} at={(of) => `/scenes/${of}`} />
        {scene ? (
          <StationScene key={scene.id} scene={scene} all={scenes.data} draft={drafts[scene.id] ?? null} onDraft={setDraft(id)} />
        ) : (
          <p>
            This scene is not there any more. <Link to="/scenes">To the holding card</Link>
          </p>
        )}
      </div>
    </>
  );
}

interface SceneProps {
  scene: SceneView;
  all: readonly SceneView[];
  draft: SceneDraft | null;
  onDraft: (draft: SceneDraft | null) => void;
}

function StationScene({ scene, all, draft, onDraft }: SceneProps) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const acts = useActs(() => queries.invalidateQueries({ queryKey: SCENES }));
  const { act, busy } = acts;
  const shown = draft ?? draftOf(scene);
  const keep = () =>
    act(async () => {
      await server.put(`/api/scenes/${scene.id}`, { ...shown, revision: scene.revision });
      onDraft(null);
    });
  const copy = () =>
    act(async () => {
      const card = shown.layout === 'card' ? (shown.card === 'holding' ? 'closing' : shown.card) : null;
      const { id } = await server.post<SceneView>('/api/scenes', { ...shown, card, name: copied(shown.name, all) });
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
    <SceneDesk scene={scene} kept={draftOf(scene)} draft={draft} onDraft={onDraft} acts={acts} onKeep={() => void keep()}>
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
    </SceneDesk>
  );
}

/** A name that no other scene has. */
function copied(name: string, all: readonly SceneView[]): string {
  for (let number = 2; ; number++) {
    const made = `${name.replace(/ \d+$/, '').slice(0, 36)} ${number}`;
    if (!all.some((scene) => scene.name === made)) return made;
  }
}
