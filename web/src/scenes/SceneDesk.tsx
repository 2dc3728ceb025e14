// One scene to be changed: as it goes out, moving, beside the few things that are chosen of it.
import type { SceneDraft } from '@lantern/contract';
import { OWN_LOOK, PEOPLE_SEATS, type LookChoices, type Scene } from '@lantern/core';
import { useMemo, useState, type ReactNode } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import type { useActs } from '../app/drafts';
import { canRunStage } from '../app/stage-support';
import { useArtwork } from '../app/artwork';
import { contentOfLook, lookToBeginWith } from '../looks/look-content';
import { Notice } from '../look/Notice';
import { useMe } from '../people/me';
import { SceneFields } from './SceneFields';
import { ScenePreview } from './ScenePreview';
import { SceneSchematic } from './SceneSchematic';

interface ListProps<Any extends Scene> {
  scenes: readonly Any[];
  /** What is chosen and not kept. */
  drafts: Readonly<Record<string, SceneDraft>>;
  shown: string;
  /** Where a scene's own page is. */
  at: (id: string) => string;
  /** Something to know of a scene; null: nothing. */
  note?: (scene: Any) => string | null;
}

export function SceneList<Any extends Scene>({ scenes, drafts, shown, at, note = () => null }: ListProps<Any>) {
  return (
    <nav aria-label="Scenes">
      <ol className="scene-list">
        {scenes.map((scene) => {
          const said = drafts[scene.id] ? 'Not kept yet' : note(scene);
          return (
            <li key={scene.id}>
              <Link to={at(scene.id)} aria-current={scene.id === shown ? 'page' : undefined}>
                <SceneSchematic scene={scene} />
                <span>
                  {(drafts[scene.id] ?? scene).name || 'Without a name'}
                  {said && <span className="soft small-words d-block">{said}</span>}
                </span>
              </Link>
            </li>
          );
        })}
      </ol>
    </nav>
  );
}

interface DeskProps {
  scene: Scene;
  /** As it is kept. */
  kept: SceneDraft;
  draft: SceneDraft | null;
  onDraft: (draft: SceneDraft | null) => void;
  acts: Pick<ReturnType<typeof useActs>, 'trouble' | 'setTrouble' | 'busy'>;
  onKeep: () => void;
  /** The look in which it goes out; missing: one may be chosen to look at it. */
  look?: LookChoices;
  /** What else can be done with it. */
  children: ReactNode;
}

export function SceneDesk({ scene, kept, draft, onDraft, acts: { trouble, setTrouble, busy }, onKeep, look: fixed, children }: DeskProps) {
  const me = useMe();
  const { data: artwork } = useArtwork();
  const [people, setPeople] = useState(3);
  const [lookId, setLookId] = useState<string | null>(null);
  const shown = draft ?? kept;
  const tried = artwork?.looks.find(({ id }) => id === lookId) ?? (lookId === null ? lookToBeginWith(artwork?.looks ?? []) : undefined);
  const look = fixed ?? tried ?? OWN_LOOK;
  const lookContent = useMemo(() => contentOfLook(look, artwork?.pieces ?? []), [look, artwork]);
  const asItWas = () => (onDraft(null), setTrouble(null));
  return (
    <div className="scene-editor">
      <div>
        {canRunStage() && me.data ? (
          <ScenePreview scene={{ ...shown, id: scene.id }} people={people} stationName={me.data.station.name} hostName={me.data.name} look={lookContent} />
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
          {!fixed && artwork && artwork.looks.length > 0 && (
            <label>
              In the look{' '}
              <Form.Select size="sm" value={tried?.id ?? ''} onChange={({ target }) => setLookId(target.value)}>
                {artwork.looks.map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
                <option value="">The product’s own</option>
              </Form.Select>
            </label>
          )}
          <span className="soft">{fixed ? 'Only to look: whoever is in the show fills it.' : 'Only to look: the people of a show and its look fill it.'}</span>
        </div>
      </div>
      <div>
        <SceneFields id={scene.id} draft={shown} troubles={trouble?.fields ?? {}} onChange={onDraft} />
        {trouble && (
          <Notice kind={trouble.theirs ? 'caution' : 'refusal'}>
            {trouble.words}{' '}
            {trouble.theirs && draft && (
              <Button variant="quiet" size="sm" onClick={asItWas}>
                Take theirs
              </Button>
            )}
          </Notice>
        )}
        <div className="button-row mb-3">
          <Button disabled={!draft || busy} onClick={onKeep}>
            Keep
          </Button>
          {draft && (
            <Button variant="quiet" size="sm" onClick={asItWas}>
              As it was
            </Button>
          )}
          <span className="soft small-words" role="status">
            {draft ? 'Not kept yet' : 'Kept'}
          </span>
        </div>
        <div className="button-row">{children}</div>
      </div>
    </div>
  );
}
