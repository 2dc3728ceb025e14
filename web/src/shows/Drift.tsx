// What was changed on a channel behind the sheet's back, field by field, and which side is to win.
import { NETWORK_NAMES, type AiringView, type PlaceResult, type ShowView } from '@lantern/contract';
import { instant, nameChoices, sayDistance, sayLength, sayWhen, type AiringChosen, type AiringField, type Difference } from '@lantern/core';
import { Button } from 'react-bootstrap';
import { useNow } from '../app/clock';
import { server } from '../app/server';
import { Explained } from '../look/Explained';
import { Notice } from '../look/Notice';
import type { Run } from './sheet-acts';

const FIELD_NAMES: Record<AiringField, string> = { title: 'Title', text: 'Text', startsAt: 'Start', lengthMs: 'Length', visibility: 'For', choices: 'Choices' };

interface Props {
  show: ShowView;
  airing: AiringView;
  zone: string;
  busy: boolean;
  editable: boolean;
  run: Run;
}

export function Drift({ show, airing, zone, busy, editable, run }: Props) {
  const now = useNow(30_000);
  const drift = airing.drift!;
  const place = airing.channel.network === 'typed-in' ? airing.channel.name : NETWORK_NAMES[airing.channel.network];
  const settle = (side: 'ours' | 'theirs', fields: readonly AiringField[]) =>
    void run(() =>
      server.post<PlaceResult>(`/api/shows/${show.id}/airings/${airing.id}/settle`, { sides: Object.fromEntries(fields.map((field) => [field, side])) }),
    );
  const forget = () => void run(async () => ({ show: await server.post<ShowView>(`/api/shows/${show.id}/airings/${airing.id}/forget`) }));
  if (drift.gone) {
    return (
      <Notice kind="refusal" live={false}>
        The event is gone from {place}: somebody removed or cancelled it there. Its watch address leads nowhere.{' '}
        {editable && (
          <Button variant="quiet" size="sm" className="d-block" disabled={busy} onClick={forget}>
            Let go of it, so that it can be placed again
          </Button>
        )}
      </Notice>
    );
  }
  const fields = drift.differences.map(({ field }) => field);
  if (!fields.length) return <p className="soft small-words mb-1">As placed, looked at {sayDistance(drift.lookedAt - now)}.</p>;
  return (
    <div className="drift small-words">
      <Notice kind="caution" live={false}>
        <Explained word="drift">
          <b>Changed on {place}</b>
        </Explained>
        , seen {sayDistance(drift.lookedAt - now)}.
      </Notice>
      <dl>
        {drift.differences.map((difference) => (
          <div key={difference.field}>
            <dt>{FIELD_NAMES[difference.field]}</dt>
            <dd>
              <span className="soft">here</span> {say(difference, 'ours', zone)}
            </dd>
            <dd>
              <span className="soft">there</span> {say(difference, 'theirs', zone)}
            </dd>
            {editable && (
              <dd className="button-row">
                <Button
                  variant="quiet"
                  size="sm"
                  disabled={busy}
                  onClick={() => settle('ours', [difference.field])}
                  aria-label={`Keep ours: ${FIELD_NAMES[difference.field]}`}
                >
                  Keep ours
                </Button>
                <Button
                  variant="quiet"
                  size="sm"
                  disabled={busy}
                  onClick={() => settle('theirs', [difference.field])}
                  aria-label={`Take theirs: ${FIELD_NAMES[difference.field]}`}
                >
                  Take theirs
                </Button>
              </dd>
            )}
          </div>
        ))}
      </dl>
      {editable && fields.length > 1 && (
        <span className="button-row">
          <Button variant="quiet" size="sm" disabled={busy} onClick={() => settle('ours', fields)}>
            Ours in all
          </Button>
          <Button variant="quiet" size="sm" disabled={busy} onClick={() => settle('theirs', fields)}>
            Theirs in all
          </Button>
        </span>
      )}
      {fields.includes('startsAt') && show.airings.filter(({ placing }) => placing === 'placed').length > 1 && (
        <p className="soft mb-0">Taking their start moves the show: the other channels then have to be told.</p>
      )}
    </div>
  );
}

function say({ field, ...sides }: Difference, side: 'ours' | 'theirs', zone: string): string {
  const value = sides[side];
  if (field === 'startsAt') return sayWhen(instant(value as number), zone);
  if (field === 'lengthMs') return sayLength(value as number);
  if (field === 'choices') return nameChoices(value as AiringChosen).join(', ');
  const text = String(value);
  return text.length > 120 ? `${text.slice(0, 120)}…` : text;
}
