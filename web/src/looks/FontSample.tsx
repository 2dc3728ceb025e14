// A font of the library, written in itself.
import type { PieceView } from '@lantern/contract';
import { useEffect, useState } from 'react';
import { loadFonts } from '../programme/fonts';
import { fontFile } from './letters';

export function FontSample({ piece: { id, name, url } }: { piece: PieceView }) {
  const [family, setFamily] = useState<string | null>(null);
  useEffect(() => {
    let late = false;
    const file = fontFile(id, 'display', () => url);
    loadFonts([file], document).then(
      () => !late && setFamily(file.family),
      () => undefined,
    );
    return () => {
      late = true;
    };
  }, [id, url]);
  return (
    <span className="font-sample" style={family === null ? undefined : { fontFamily: `"${family}"` }}>
      {name} 20:30
    </span>
  );
}
