// What is laid over the picture, in the order of use: what is shown, what the next press shows, and all of them one press away.
import { Button } from 'react-bootstrap';
import { useStageOf, type StageGraphic } from './stage-store';

interface Props {
  onShow: (id?: string) => void;
  onHide: () => void;
}

const KIND_WORDS: Record<StageGraphic['kind'], string> = {
  strap: 'name',
  list: 'list',
  call: 'call',
  crawl: 'moving line',
  question: 'question',
  poll: 'poll',
};

export function GraphicsOnStage({ onShow, onHide }: Props) {
  const { graphics, questions, shownGraphic, nextGraphic } = useStageOf('graphics', 'questions', 'shownGraphic', 'nextGraphic');
  if (!graphics.length) return null;
  const shown = [...graphics, ...questions].find(({ id }) => id === shownGraphic);
  const next = graphics.find(({ id }) => id === nextGraphic);
  return (
    <section className="graphics-on-stage small-words" aria-label="Graphics">
      <p role="status">{shown ? <b>“{shown.text}” is shown</b> : !next && <span className="soft">All graphics have been shown.</span>}</p>
      <div className="graphics-row">
        <Button variant="outline-primary" size="sm" disabled={!next} onClick={() => onShow()}>
          <span>{next ? `Show “${next.text}”` : 'Show next'}</span> <kbd className="key">G</kbd>
        </Button>
        <Button variant="quiet" size="sm" disabled={!shown} onClick={onHide}>
          Hide <kbd className="key">⇧ G</kbd>
        </Button>
        <details>
          <summary>All {graphics.length}</summary>
          <ul>
            {graphics.map((graphic) => (
              <li key={graphic.id}>
                <Button
                  variant="quiet"
                  size="sm"
                  aria-pressed={graphic.id === shownGraphic}
                  onClick={() => (graphic.id === shownGraphic ? onHide() : onShow(graphic.id))}
                >
                  {graphic.text}
                </Button>{' '}
                <span className="soft">
                  {KIND_WORDS[graphic.kind]}
                  {graphic.stale && ', made for another evening'}
                </span>
              </li>
            ))}
          </ul>
        </details>
      </div>
    </section>
  );
}
