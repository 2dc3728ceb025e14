import { LanternMark } from '../look/LanternMark';

/** Stands until the first page is there; the page itself begins with the same (index.html). */
export function Opening() {
  return (
    <main className="opening" aria-busy="true">
      <LanternMark /> Noble Lantern <span>is opening…</span>
    </main>
  );
}
