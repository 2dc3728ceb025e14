// What an outside encoder is given for a show: address, key and watch link, in the order in which
// encoders ask for them, one set a channel.
import type { AiringView, RevealedEncoderSet, ShowView } from '@lantern/contract';
import { Button } from 'react-bootstrap';
import { CopyButton } from '../look/CopyButton';
import { Identity } from '../look/Identity';
import { Notice } from '../look/Notice';
import { useSecretRequest, useShortLived } from './secrets';
import { saveAs } from '../app/save-as';

export function EncoderSets({ show }: { show: ShowView }) {
  const ready = show.airings.filter(({ channel, placing }) => channel.network === 'typed-in' || placing === 'placed' || placing === 'awaits air');
  return (
    <>
      <p className="small-words">
        The picture does not pass through here: the encoder sends it straight to each channel. Hand over one set a channel. A set holds a key, so pass it only
        to whoever runs the encoder.
      </p>
      {!ready.length && <p className="soft small-words">Place the show first: the channels tell their keys then.</p>}
      {ready.map((airing) => (
        <EncoderSetOf key={airing.id} show={show} airing={airing} />
      ))}
    </>
  );
}

function EncoderSetOf({ show, airing }: { show: ShowView; airing: AiringView }) {
  const { ask, prompt, refused, busy } = useSecretRequest<RevealedEncoderSet>(`/api/shows/${show.id}/encoder-sets/${airing.id}`);
  const shown = useShortLived<RevealedEncoderSet>();
  const copied = useShortLived<true>();
  const { channel } = airing;
  return (
    <div className="encoder-set">
      <Identity of={channel} small />
      <div className="d-flex flex-wrap gap-2 mt-2">
        {shown.value === null ? (
          <Button variant="outline-primary" size="sm" disabled={busy} onClick={() => ask('show', shown.show)}>
            Show the set <span className="visually-hidden">for {channel.name}</span>
          </Button>
        ) : (
          <Button variant="outline-primary" size="sm" onClick={shown.hide}>
            Hide it ({shown.secondsLeft} s)
          </Button>
        )}
        <Button
          variant="outline-primary"
          size="sm"
          disabled={busy}
          onClick={() => ask('copy', ({ text }) => void navigator.clipboard.writeText(text).then(() => copied.show(true)))}
        >
          <span aria-live="polite">{copied.value ? 'Copied' : 'Copy as one text'}</span>
        </Button>
        <Button variant="outline-primary" size="sm" disabled={busy} onClick={() => ask('file', save)}>
          Save as a file
        </Button>
      </div>
      {shown.value && <ShownSet revealed={shown.value} />}
      {refused && <Notice kind="refusal">{refused}</Notice>}
      {prompt}
    </div>
  );
}

function ShownSet({ revealed: { set } }: { revealed: RevealedEncoderSet }) {
  return (
    <ol className="set-fields">
      <SetField name="Address" value={set.address} />
      <SetField name="Key" value={set.key} />
      <SetField name="Where to watch" value={set.watchUrl ?? ''} />
    </ol>
  );
}

function SetField({ name, value }: { name: string; value: string }) {
  return (
    <li>
      <div className="set-field">
        <span className="soft small-words">{name}</span>
        <code>{value || 'not known yet'}</code>
        {value && <CopyButton text={value} what={name.toLowerCase()} />}
      </div>
    </li>
  );
}

function save({ text, fileName }: RevealedEncoderSet): void {
  saveAs(fileName, new Blob([text], { type: 'text/plain;charset=utf-8' }));
}
