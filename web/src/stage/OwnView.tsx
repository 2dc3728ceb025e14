// The host's own picture, for the host alone: as others see it, or as in a mirror, which is how people know themselves. Nobody else's picture changes.
import { useCallback, useState } from 'react';
import { Form } from 'react-bootstrap';
import { useStage } from './stage-store';

const VIEWS = { none: 'Not shown here', seen: 'As others see me', mirrored: 'As in a mirror' } as const;
type View = keyof typeof VIEWS;
const REMEMBERED = 'lantern-own-view';

const remembered = (): View => {
  const known = localStorage.getItem(REMEMBERED);
  return known !== null && known in VIEWS ? (known as View) : 'none';
};

/** What was chosen last in this browser. */
export function useOwnView() {
  const [view, setView] = useState(remembered);
  const choose = (chosen: View) => {
    localStorage.setItem(REMEMBERED, chosen);
    setView(chosen);
  };
  return { view, choose };
}

export function OwnViewChoice({ view, choose }: ReturnType<typeof useOwnView>) {
  return (
    <Form.Select size="sm" value={view} onChange={({ target }) => choose(target.value as View)}>
      {Object.entries(VIEWS).map(([each, words]) => (
        <option key={each} value={each}>
          {words}
        </option>
      ))}
    </Form.Select>
  );
}

export function OwnView({ view }: { view: View }) {
  const camera = useStage(({ ownCamera }) => ownCamera);
  const show = useCallback(
    (video: HTMLVideoElement | null) => {
      if (video) video.srcObject = camera;
    },
    [camera],
  );
  if (view === 'none' || !camera) return null;
  return (
    <video ref={show} className={`own-view${view === 'mirrored' ? ' mirrored' : ''}`} muted autoPlay playsInline aria-label="My own picture, for me alone" />
  );
}
