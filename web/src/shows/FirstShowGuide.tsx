// Walks along with the first show that a station plans, on its real draft; it can be left at any time.
import type { ShowDraft, ShowSummary, ShowView } from '@lantern/contract';
import type { Instant } from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { server } from '../app/server';
import { guideOf } from './first-show';
import { useSectionState } from './sections';

const LEFT = 'lantern-guide-left';

interface Props {
  show: ShowView;
  draft: ShowDraft;
  startsAt: Instant | null;
  now: Instant;
}

export function FirstShowGuide({ show, draft, startsAt, now }: Props) {
  const [left, setLeft] = useState(() => localStorage.getItem(LEFT) !== null);
  const shows = useQuery({ queryKey: ['shows', 'near'], queryFn: () => server.get<ShowSummary[]>('/api/shows'), enabled: !left });
  const { setOpen } = useSectionState();
  // Whoever has placed another show knows the way.
  const first = shows.data?.every(({ id, placedAt }) => id === show.id || placedAt === null) ?? false;
  const running = show.state === 'draft' || show.state === 'placed';
  if (left || !first || !running) return null;
  const steps = guideOf(draft, show, startsAt, now);
  const at = steps.findIndex(({ done }) => !done);
  const { words, section } = steps[at]!;
  const leave = () => {
    localStorage.setItem(LEFT, 'yes');
    setLeft(true);
    document.querySelector<HTMLElement>('.sheet-head h1')?.focus();
  };
  return (
    <aside className="first-show" aria-label="Your first show">
      <p className="mb-1">
        <b>
          Your first show, step {at + 1} of {steps.length}.
        </b>{' '}
        {words}
      </p>
      <span className="button-row small-words">
        {section && (
          <Button
            variant="quiet"
            size="sm"
            onClick={() => {
              setOpen(section, true);
              setTimeout(() => document.getElementById(`${section}-switch`)?.focus(), 50);
            }}
          >
            Go there
          </Button>
        )}
        <Button variant="quiet" size="sm" onClick={leave}>
          Leave the guide
        </Button>
      </span>
    </aside>
  );
}
