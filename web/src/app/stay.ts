// Whether a page may be left.
import { useEffect } from 'react';
import { useBlocker } from 'react-router';

/** What is not kept is not lost by a slip: whoever goes elsewhere than to pages below `at` is asked first. */
export function useStay(unkept: boolean, at: string): void {
  const blocker = useBlocker(({ nextLocation }) => unkept && !nextLocation.pathname.startsWith(at));
  useEffect(() => {
    if (blocker.state !== 'blocked') return;
    if (window.confirm('What you chose on this page is not kept yet. Leave it?')) blocker.proceed();
    else blocker.reset();
  }, [blocker]);
  useAskOnClose(unkept);
}

/** A tab with something that is not kept yet is not closed by a slip. */
export function useAskOnClose(unkept: boolean): void {
  useEffect(() => {
    if (!unkept) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [unkept]);
}
