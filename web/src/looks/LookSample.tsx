// A look as it is seen: on a card, and on a name over a picture.
import type { LookDraft } from '@lantern/contract';

export function LookSample({ look }: { look: Pick<LookDraft, 'name' | 'palette' | 'straps'> & { logoUrl: string | null } }) {
  const { palette, name, straps, logoUrl } = look;
  const { ground, ink, accent } = palette;
  return (
    <div className="look-sample" style={{ background: ground, color: ink }}>
      {logoUrl && <img src={logoUrl} alt="" width={34} height={34} />}
      <span style={{ color: accent }}>Thursday, 20:30</span>
      <b>{name || 'A new look'}</b>
      <span className={`strap-sample ${straps}`} style={{ ['--accent' as string]: accent, ['--ink' as string]: ink, ['--ground' as string]: ground }}>
        A name
      </span>
    </div>
  );
}
