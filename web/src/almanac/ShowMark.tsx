// How a show stands, as a mark with its word for those who listen: told apart by shape.
import type { ShowSummary } from '@lantern/contract';
import { Check, Circle, CircleDashed, CircleSlash, OctagonX } from 'lucide-react';
import { LampGlyph } from '../look/LampGlyph';

export function ShowMark({ show: { state, airings } }: { show: ShowSummary }) {
  if (state === 'onAir' || state === 'interrupted') {
    return (
      <span className="show-mark on" role="img" aria-label={state === 'onAir' ? 'on air' : 'interrupted'}>
        <LampGlyph lamp={state === 'onAir' ? 'lit' : 'fault'} size={15} />
      </span>
    );
  }
  const [Mark, words] =
    state === 'over'
      ? ([Check, 'over'] as const)
      : state === 'withdrawn'
        ? ([CircleSlash, 'withdrawn'] as const)
        : airings.some(({ placing }) => placing === 'refused')
          ? ([OctagonX, 'refused by a channel'] as const)
          : state === 'placed'
            ? ([Circle, 'placed'] as const)
            : ([CircleDashed, 'draft'] as const);
  return <Mark size={13} strokeWidth={2.2} className={`show-mark ${state}`} aria-label={words} role="img" />;
}
