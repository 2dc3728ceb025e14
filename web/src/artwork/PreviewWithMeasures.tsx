// A composition as it would be, at the sizes at which people meet it, with what was measured of its letters.
import type { CompositionPreview, LetteringView, ShowPictureName } from '@lantern/contract';
import { MET_AT_PX } from '@lantern/core';
import { Notice } from '../look/Notice';

const ROLE_WORDS: Record<LetteringView['role'], string> = { title: 'Title', when: 'Time', line: 'Line', station: 'Station' };

export function PreviewWithMeasures({ preview, which }: { preview: CompositionPreview | null; which: ShowPictureName }) {
  if (!preview) return <div className="composer-picture" role="img" aria-label="The picture is being drawn" />;
  const { picture, letters, missing } = preview;
  // Lines of one title are one thing to a reader: the worst of them counts.
  const measured = (['title', 'when', 'line'] as const).flatMap((role) => {
    const own = letters.filter((line) => line.role === role);
    if (!own.length) return [];
    const readable = Math.max(...own.map(({ readableFromPx }) => readableFromPx));
    return [{ role, readable, contrast: Math.min(...own.map(({ contrast }) => contrast)), troubles: new Set(own.flatMap(({ troubles }) => troubles)) }];
  });
  const troubled = measured.filter(({ troubles }) => troubles.size);
  return (
    <section aria-label="The picture" className="composer-view">
      <img className="composer-picture" src={picture} alt="The picture as it will be" />
      {which === 'waiting' && <p className="soft small-words mb-0 mt-2">The dark field stays free: the countdown stands there.</p>}
      <div aria-live="polite">
        {missing.length > 0 && <Notice kind="caution">No letters here can draw {missing.join(' ')}: they are left out.</Notice>}
        {troubled.map(({ role, troubles, readable, contrast }) => (
          <Notice key={role} kind="caution">
            {troubles.has('small') && `${ROLE_WORDS[role]}: can be read only where the picture is at least ${readable} pixels wide. Use fewer words. `}
            {troubles.has('pale') && `${ROLE_WORDS[role]}: stands out too little, ${contrast.toFixed(1)} to 1. Choose another background or look.`}
          </Notice>
        ))}
      </div>
      <h2 className="h3 mt-4 mb-2">As people meet it</h2>
      <div className="met">
        {MET_AT_PX.map((width) => (
          <figure key={width}>
            <img src={picture} width={width} height={Math.round((width * 9) / 16)} alt={`The picture ${width} pixels wide`} />
            <figcaption className="soft small-words">{width} px</figcaption>
          </figure>
        ))}
      </div>
      <table className="measures small-words">
        <thead>
          <tr>
            <th scope="col">Words</th>
            <th scope="col">can be read from</th>
            <th scope="col">stand out</th>
          </tr>
        </thead>
        <tbody>
          {measured.map(({ role, readable, contrast, troubles }) => (
            <tr key={role}>
              <th scope="row">{ROLE_WORDS[role]}</th>
              <td>
                {readable} px wide{troubles.has('small') && ' – too small'}
              </td>
              <td>
                {contrast.toFixed(1)} : 1{troubles.has('pale') && ' – too little'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
