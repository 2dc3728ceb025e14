// What a page is called where the browser names it: in its tab, its history and to whoever hears the page.
import { useEffect } from 'react';

export function PageTitle({ of }: { of: string }) {
  useEffect(() => {
    document.title = `${of} · Noble Lantern`;
  }, [of]);
  return null;
}
