// On which ground planning pages are drawn: day, dusk where the reader prefers the dark, or the reader's own colours where those are forced.
import { useSyncExternalStore } from 'react';

export type Ground = 'day' | 'dusk' | 'forced';

const DARK = '(prefers-color-scheme: dark)';
const FORCED = '(forced-colors: active)';

const groundNow = (): Ground => (window.matchMedia(FORCED).matches ? 'forced' : window.matchMedia(DARK).matches ? 'dusk' : 'day');

function onChange(then: () => void): () => void {
  const queries = [DARK, FORCED].map((query) => window.matchMedia(query));
  for (const query of queries) query.addEventListener('change', then);
  return () => {
    for (const query of queries) query.removeEventListener('change', then);
  };
}

export const useGround = (): Ground => useSyncExternalStore(onChange, groundNow);

/** Lets the whole document follow, from before anything is drawn. What is dusk by itself, such as the stage, stays so. */
export function followGround(): void {
  const follow = () => {
    if (window.matchMedia(DARK).matches) document.documentElement.dataset.bsTheme = 'dusk';
    else delete document.documentElement.dataset.bsTheme;
  };
  follow();
  onChange(follow);
}
