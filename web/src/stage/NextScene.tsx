// What the next take brings: the station's scenes by name, each with its seats as they are filled now.
import { hasSomething, type SceneId } from '@lantern/core';
import { useShallow } from 'zustand/react/shallow';
import { SceneSchematic } from '../scenes/SceneSchematic';
import { isFilled, playsPicture, useStage } from './stage-store';

interface Props {
  onChoose: (next: SceneId) => void;
}

export function NextScene({ onChoose }: Props) {
  // Named singly: how the show stands on air is told many times a second.
  const { scenes, next, programme, shares, plays, lineOnStage, guests } = useStage(
    useShallow(({ scenes, next, programme, share, guestShare, clip, air, guests }) => ({
      guests,
      scenes,
      next,
      programme,
      shares: share.on || guestShare !== null,
      plays: playsPicture({ clip }),
      lineOnStage: air?.lineOnStage ?? null,
    })),
  );
  const filled = isFilled({ shares, plays, lineOnStage, guests });
  return (
    <div role="group" aria-label="What comes next" className="next-scenes mb-3">
      {scenes.map((scene) => {
        const { id, name } = scene;
        const empty = !hasSomething(scene, filled);
        return (
          <button
            key={id}
            type="button"
            className="next-scene"
            aria-pressed={id === next}
            aria-current={id === programme}
            disabled={empty}
            title={empty ? 'Nothing to show on it now' : undefined}
            onClick={() => onChoose(id)}
          >
            <SceneSchematic scene={scene} filled={filled} />
            <span>{name}</span>
          </button>
        );
      })}
    </div>
  );
}
