import { useEffect, useState } from 'react';
import { Button, Modal } from 'react-bootstrap';
import { Notice } from '../look/Notice';
import { keepOwnKeys, keyOf, ownKeys, sayKey, STAGE_KEYS, withKey, type StageDeed } from './stage-keys';

export function KeysHelp({ onClose }: { onClose: () => void }) {
  const [own, setOwn] = useState(ownKeys);
  /** What the next press is for; null: it is no more than a press. */
  const [asks, setAsks] = useState<StageDeed | null>(null);
  const [trouble, setTrouble] = useState('');
  useEffect(() => {
    if (asks === null) return;
    const onKey = (event: KeyboardEvent) => {
      if (['Shift', 'Control', 'Alt', 'Meta'].includes(event.key)) return;
      event.preventDefault();
      event.stopPropagation();
      setAsks(null);
      const key = keyOf(event);
      if (event.key === 'Escape' || key === null) return;
      const after = withKey(own, asks, key);
      if (typeof after === 'string') return setTrouble(after);
      keepOwnKeys(after);
      setOwn(after);
    };
    // Before the dialogue takes it for its own.
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, [asks, own]);
  const forget = (deed: StageDeed) => {
    const rest = { ...own };
    delete rest[deed];
    keepOwnKeys(rest);
    setOwn(rest);
  };
  return (
    <Modal show onHide={onClose} aria-labelledby="keys-title" data-bs-theme="dusk" keyboard={asks === null}>
      <Modal.Header closeButton>
        <h2 id="keys-title" className="mb-0">
          Keys on the stage
        </h2>
      </Modal.Header>
      <Modal.Body>
        {trouble && <Notice kind="refusal">{trouble}</Notice>}
        <dl className="stage-keys mb-0">
          {STAGE_KEYS.map(({ key, does, words }) => (
            <div key={does}>
              <dt>
                <kbd className="key">{sayKey(key)}</kbd>
                {own[does] && <kbd className="key ms-1">{sayKey(own[does])}</kbd>}
              </dt>
              <dd>{words}</dd>
              <dd className="small-words">
                {asks === does ? (
                  <span role="status">Press a key…</span>
                ) : (
                  <Button
                    variant="quiet"
                    size="sm"
                    onClick={() => {
                      setTrouble('');
                      if (own[does]) forget(does);
                      else setAsks(does);
                    }}
                  >
                    {own[does] ? `Forget ${sayKey(own[does])}` : 'Add'}
                    <span className="visually-hidden">
                      {' '}
                      {own[does] ? 'for' : 'a key'}: {words}
                    </span>
                  </Button>
                )}
              </dd>
            </div>
          ))}
          <div>
            <dt>
              <kbd className="key">1</kbd> to <kbd className="key">6</kbd>
            </dt>
            <dd>Bring the guest of that number in, or take them off</dd>
            <dd />
          </div>
        </dl>
        <p className="small-words mt-3 mb-0">
          In the mailbag, while one of its messages is chosen: <kbd className="key">A</kbd> answers, <kbd className="key">U</kbd> puts it among the questions,{' '}
          <kbd className="key">H</kbd> hides it; <kbd className="key">↑</kbd> and <kbd className="key">↓</kbd> go through them.
        </p>
        <p className="soft small-words mt-3 mb-0">
          A key pad or a foot switch that sends keys can be added. What you add stays in this browser. Wrapping up has no key: it asks first.
        </p>
      </Modal.Body>
    </Modal>
  );
}
