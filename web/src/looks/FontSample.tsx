// A font of the library, written in itself.
import type { PieceView } from '@lantern/contract';
import { useLetters } from './use-letters';

export function FontSample({ piece: { id, name, url } }: { piece: PieceView }) {
  const family = useLetters(id, url);
  return (
    <span className="font-sample" style={family === null ? undefined : { fontFamily: `"${family}"` }}>
      {name} 20:30
    </span>
  );
}
