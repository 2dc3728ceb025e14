// Sharing a screen, a window or a tab: beside the camera, and never instead of it.
import { Button, Form } from 'react-bootstrap';
import { useShallow } from 'zustand/react/shallow';
import { useStage } from './stage-store';

interface Props {
  onShare: () => void;
  onEnd: () => void;
  onChangesScene: (changes: boolean) => void;
}

export function ShareControls({ onShare, onEnd, onChangesScene }: Props) {
  const { share, shareChangesScene } = useStage(useShallow(({ share, shareChangesScene }) => ({ share, shareChangesScene })));
  return (
    <div className="share-controls small-words">
      <Button variant="outline-primary" size="sm" aria-pressed={share.on} onClick={share.on ? onEnd : onShare}>
        {share.on ? 'Stop sharing' : 'Share a screen…'}
      </Button>
      <Form.Check id="share-changes-scene" checked={shareChangesScene} onChange={({ target }) => onChangesScene(target.checked)} label="Its scene follows" />
      <p className="mb-0" role="status">
        {share.on ? (share.withSound ? 'Picture and sound are shared.' : 'The picture is shared, without sound.') : share.words}
      </p>
    </div>
  );
}
