// What is prepared to be played: what plays and how long it still does, what the next press plays, and all of them one press away.
import { sayClock } from '@lantern/core';
import { Button } from 'react-bootstrap';
import { useShallow } from 'zustand/react/shallow';
import { useNow } from '../app/clock';
import { Notice } from '../look/Notice';
import { STING, useStage, type StageClip } from './stage-store';

interface Props {
  disabled: boolean;
  onPlay: (id?: string) => void;
  onStop: () => void;
}

export function ClipsOnStage({ disabled, onPlay, onStop }: Props) {
  const { clips: all, clip, nextClip, clipWords } = useStage(useShallow(({ clips, clip, nextClip, clipWords }) => ({ clips, clip, nextClip, clipWords })));
  if (!all.length && !clip) return null;
  const sting = all.find(({ id }) => id === STING);
  const clips = all.filter(({ id }) => id !== STING);
  const plays = all.find(({ id }) => id === clip?.id);
  const next = clips.find(({ id }) => id === nextClip);
  return (
    <section className="graphics-on-stage small-words" aria-label="Clips">
      {clipWords && <Notice kind="caution">{clipWords}</Notice>}
      <p role="status">
        {plays && clip ? (
          <b>
            “{plays.name}” {clip.kind === 'still' ? 'is shown' : 'plays'}
          </b>
        ) : !next && clips.length > 0 ? (
          <span className="soft">All clips have been played.</span>
        ) : (
          next && next.kind !== null && !next.rights.trim() && <span className="soft">Nobody has said whose “{next.name}” is.</span>
        )}
        {clip && clip.endsAt !== null && <Left endsAt={clip.endsAt} />}
      </p>
      <div className="graphics-row">
        {clips.length > 0 && (
          <Button variant="outline-primary" size="sm" disabled={disabled || !next} onClick={() => onPlay()}>
            <span>{next ? `${next.kind === 'still' ? 'Show' : 'Play'} “${next.name}”` : 'Play next'}</span> <kbd className="key">P</kbd>
          </Button>
        )}
        {sting && (
          <Button variant="quiet" size="sm" disabled={disabled} title={`“${sting.name}”, the sting of the look`} onClick={() => onPlay(STING)}>
            Sting <kbd className="key">I</kbd>
          </Button>
        )}
        <Button variant="quiet" size="sm" disabled={disabled || !clip} onClick={onStop}>
          {clip?.kind === 'still' ? 'Take away' : 'Stop'} <kbd className="key">⇧ P</kbd>
        </Button>
        <details hidden={!clips.length}>
          <summary>All {clips.length}</summary>
          <ul>
            {clips.map((each) => (
              <li key={each.id}>
                <Button
                  variant="quiet"
                  size="sm"
                  disabled={disabled}
                  aria-pressed={each.id === clip?.id}
                  onClick={() => (each.id === clip?.id ? onStop() : onPlay(each.id))}
                >
                  {each.name}
                </Button>{' '}
                <span className="soft">{factsOf(each)}</span>
              </li>
            ))}
          </ul>
        </details>
      </div>
    </section>
  );
}

/** “film, 1:05; nobody has said whose it is”. */
function factsOf({ kind, lengthMs, rights }: StageClip): string {
  if (kind === null) return 'not ready';
  const what = kind === 'still' ? 'picture' : `${kind}, ${sayClock(lengthMs)}`;
  return `${what}${rights.trim() ? '' : '; nobody has said whose it is'}`;
}

/** Time left, counting down. */
function Left({ endsAt }: { endsAt: number }) {
  const now = useNow(250);
  return <span className="clip-left"> {sayClock(Math.max(0, endsAt - now), true)} left</span>;
}
