// What was added or moved in a list has the focus once it is drawn.
import { useEffect, useRef, type RefObject } from 'react';

/** `list`: the element within which; `focusOn`: names, by a selector, what is to have the focus after `items` have changed. */
export function useFocusOn<List extends HTMLElement>(items: unknown): { list: RefObject<List | null>; focusOn: (selector: string) => void } {
  const list = useRef<List>(null);
  const wanted = useRef('');
  useEffect(() => {
    if (!wanted.current) return;
    list.current?.querySelector<HTMLElement>(wanted.current)?.focus();
    wanted.current = '';
  }, [items]);
  return { list, focusOn: (selector) => (wanted.current = selector) };
}
