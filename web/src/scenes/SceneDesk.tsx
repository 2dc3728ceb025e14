// One scene to be changed: as it goes out, moving, beside the few things that are chosen of it.
import type { SceneDraft } from '@lantern/contract';
import { OWN_LOOK, PEOPLE_SEATS, type LookChoices, type Scene } from '@lantern/core';
import { useMemo, useState, type ReactNode } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import { ServerError, wordsOf } from '../app/server';
import { canRunStage } from '../app/stage-support';
import { useArtwork } from '../app/artwork';
import { contentOfLook, lookToBeginWith } from '../looks/look-content';
import { Notice } from '../look/Notice';
import { useMe } from '../people/me';
import { SceneFields } from './SceneFields';
import { ScenePreview } from './ScenePreview';
import { SceneSchematic } from './SceneSchematic';

/** What was chosen and not kept yet, of each scene: going from one to another loses nothing. */
export type SceneDrafts = Readonly<Record<string, SceneDraft>>;

export function useSceneDrafts() {
  const [drafts, setDrafts] = useState<SceneDrafts>({});
  const setDraft = (id: string) => (draft: SceneDraft | null) =>
    setDrafts((before) => {
      const after = { ...before };
      if (draft) after[id] = draft;
      else delete after[id];
      return after;
    });
  return { drafts, setDraft };
}

interface ListProps<Any extends Scene> {
  scenes: readonly Any[];
  drafts: SceneDrafts;
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

export interface SceneTrouble {
  words: string;
  fields: Partial<Record<string, string>>;
  /** Somebody else was first. */
  theirs: boolean;
}

/** Does one thing after the other with a scene, and says what went wrong; `after`: whatever came of it. */
export function useSceneActs(after: () => Promise<unknown>) {
  const [trouble, setTrouble] = useState<SceneTrouble | null>(null);
  const [busy, setBusy] = useState(false);
  const act = async (work: () => Promise<unknown>) => {
    setBusy(true);
    setTrouble(null);
    try {
      await work();
    } catch (error) {
      const { fields = {}, status = 0 } = error instanceof ServerError ? error : {};
      setTrouble({ words: wordsOf(error), fields, theirs: status === 409 });
    } finally {
      // Where somebody else was first, theirs is what the next press is over.
      await after();
      setBusy(false);
    }
  };
  return { trouble, setTrouble, busy, act };
}

interface DeskProps {
  scene: Scene;
  /** As it is kept. */
  kept: SceneDraft;
  draft: SceneDraft | null;
  onDraft: (draft: SceneDraft | null) => void;
  acts: Pick<ReturnType<typeof useSceneActs>, 'trouble' | 'setTrouble' | 'busy'>;
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
