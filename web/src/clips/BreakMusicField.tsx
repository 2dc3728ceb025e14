// Which sound is heard while viewers see the break card.
import type { ShowDraft } from '@lantern/contract';
import { sayClock } from '@lantern/core';
import { Form } from 'react-bootstrap';
import { Link } from 'react-router';
import { Field } from '../look/Field';
import { useClips } from './clip-queries';

export function BreakMusicField({ chosen, put }: { chosen: string | null; put: (changes: Pick<ShowDraft, 'breakMusicId'>) => void }) {
  const clips = useClips();
  if (!clips.data) return null;
  const ready = clips.data.filter(({ kind, state, id }) => (kind === 'sound' && state === 'ready') || id === chosen);
  return (
    <Field
      id="break-music"
      label="Music on the break card"
      className="mt-4 mb-3"
      help={
        <>
          Heard when you take a break, and when your line is lost. Sounds are brought in under <Link to="/artwork#clips">Artwork</Link>.
        </>
      }
    >
      <Form.Select style={{ maxWidth: '20rem' }} value={chosen ?? ''} onChange={({ target }) => put({ breakMusicId: target.value || null })}>
        <option value="">None: it is silent</option>
        {chosen !== null && !ready.some(({ id }) => id === chosen) && <option value={chosen}>A sound that was taken out</option>}
        {ready.map(({ id, name, lengthMs }) => (
          <option key={id} value={id}>
            {name}, {sayClock(lengthMs)}
          </option>
        ))}
      </Form.Select>
    </Field>
  );
}
