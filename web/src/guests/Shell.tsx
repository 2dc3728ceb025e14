// What every step at the guest door stands in, and what is known while it is gone through.
import type { DoorView as Door } from '@lantern/contract';
import { useEffect, useRef, type ReactNode } from 'react';
import { PageTitle } from '../app/PageTitle';
import type { Chosen, Opened } from './own-media';

/** What a guest's page holds while it is open: their devices, and the sound of this browser. */
export interface Mine {
  chosen: Chosen;
  opened: Opened | null;
  context: AudioContext;
  /** What the steps have found so far. */
  heard: boolean;
  echo: boolean | null;
}

/** The slip at the head of each step: whose pass it is, for what. */
export function Shell({ title, door, children }: { title: string; door?: Door; children: ReactNode }) {
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => heading.current?.focus({ preventScroll: true }), [title]);
  return (
    <main className="door">
      <PageTitle of={title} />
      <p className="pass-slip">
        <b>Guest pass</b>
        {door && (
          <span>
            {door.title}, {door.stationName}
          </span>
        )}
      </p>
      <h1 ref={heading} tabIndex={-1}>
        {title}
      </h1>
      {children}
    </main>
  );
}
