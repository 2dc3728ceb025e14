// The lantern glyph of a channel: told apart by shape, never by colour alone, and always with its word.
import type { Lamp } from '@lantern/core';

const BODY = 'M8 8h8l1.6 11H6.4z';

export function LampGlyph({ lamp, size = 22 }: { lamp: Lamp; size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 24 24"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.7"
      strokeLinejoin="round"
      strokeLinecap="round"
      aria-hidden="true"
    >
      {lamp === 'lit' && (
        <>
          <path d={BODY} fill="currentColor" />
          <path d="M2.5 12.5H4M20 12.5h1.5M4 6l1.2 1M20 6l-1.2 1M12 2v2" />
        </>
      )}
      {lamp === 'warm' && (
        <>
          <path d={BODY} />
          <path d="M7.1 14h9.8l.7 5H6.4z" fill="currentColor" />
          <path d="M12 4v4" />
        </>
      )}
      {lamp === 'dark' && (
        <>
          <path d={BODY} />
          <path d="M12 4v4" />
        </>
      )}
      {lamp === 'out' && (
        <>
          <path d={BODY} />
          <path d="M3 22h18" />
        </>
      )}
      {lamp === 'fault' && (
        <>
          <path d={BODY} strokeDasharray="3 2.6" />
          <path d="M5 21 19 6" />
        </>
      )}
    </svg>
  );
}

export function LampWord({ lamp }: { lamp: Lamp }) {
  return (
    <span className={`lamp ${lamp}`}>
      <LampGlyph lamp={lamp} />
      {lamp}
    </span>
  );
}
