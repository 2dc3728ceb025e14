// A column that stays beside the page as one reads on, and can be read to its end however long it is: one that is taller than the
// window stays by its lower edge.
import { useCallback, useRef } from 'react';

const GAP_PX = 16;

export function useReachable() {
  const watching = useRef<() => void>(() => undefined);
  return useCallback((column: HTMLElement | null) => {
    watching.current();
    if (!column) return;
    const fit = () => {
      const head = document.querySelector<HTMLElement>('.sheet-head')?.offsetHeight ?? 0;
      column.style.top = `${Math.min(head + GAP_PX, window.innerHeight - column.offsetHeight - GAP_PX)}px`;
    };
    const sizes = new ResizeObserver(fit);
    sizes.observe(column);
    window.addEventListener('resize', fit);
    watching.current = () => {
      sizes.disconnect();
      window.removeEventListener('resize', fit);
    };
  }, []);
}
