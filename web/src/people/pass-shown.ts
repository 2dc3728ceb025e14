// What a mail brought stands behind “#” in the address: no server and no log sees it. It is read once and taken out of the address.
import { useState } from 'react';

export function usePassShown(): string {
  const [pass] = useState(() => {
    const shown = location.hash.slice(1);
    if (shown) history.replaceState(history.state, '', location.pathname);
    return shown;
  });
  return pass;
}
