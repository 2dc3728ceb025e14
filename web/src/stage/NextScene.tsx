// What the next take brings, where there is more than one other scene to choose from.
import { SCENES, type SceneId } from '@lantern/core';
import { Button } from 'react-bootstrap';

interface Props {
  next: SceneId;
  /** Whether an outside line stands on the stage: without one, its scenes are empty. */
  withLine: boolean;
  onChoose: (next: SceneId) => void;
}

export function NextScene({ next, withLine, onChoose }: Props) {
  if (!withLine) return null;
  return (
    <div role="group" aria-label="What comes next" className="next-scenes mb-3">
      {SCENES.map(({ id, name }) => (
        <Button key={id} variant="quiet" size="sm" aria-pressed={id === next} onClick={() => onChoose(id)}>
          {name}
        </Button>
      ))}
    </div>
  );
}
