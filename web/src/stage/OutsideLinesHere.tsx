// What comes on outside lines, beside the stage: to be seen, and to be put into the programme.
import type { AirView, ChannelView, OutsideOnAir } from '@lantern/contract';
import { beyondLimits, sayBeyondLimit, sayOutsideFacts, type SourceId, type StripSetting } from '@lantern/core';
import type { ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { useChannels } from '../channels/channel-queries';
import { inFull } from '../look/channel-words';
import { Notice } from '../look/Notice';
import { StripFields } from './StripFields';

interface Props {
  air: AirView;
  disabled: boolean;
  /** Whether a stage makes a picture here, to which one can go back. */
  withStage: boolean;
  onChoose: (source: SourceId) => void;
  /** Has a line stand on the stage, or none; missing: no picture is made here. */
  onBring?: (line: string | null) => void;
  onStrip?: (change: Partial<StripSetting>) => void;
}

export function OutsideLinesHere({ air, disabled, withStage, onChoose, onBring, onStrip }: Props) {
  const channels = useChannels().data ?? [];
  const chosen = air.lines.find(({ id }) => air.chosen === `line:${id}`);
  const away = air.chosen.startsWith('line:') && !chosen;
  const stands = air.lines.find(({ id }) => id === air.lineOnStage);
  const standsAway = air.lineOnStage !== null && !stands;
  const onAir = air.showState === 'onAir';
  if (!air.lines.length && !away && !standsAway) return null;
  return (
    <section className={withStage ? 'mt-2 outside-lines' : 'mt-4'} aria-labelledby="outside-here">
      <h2 id="outside-here" className={withStage ? 'visually-hidden' : 'h3'}>
        Outside lines
      </h2>
      {air.lines.map((line) => (
        <Line
          key={line.id}
          line={line}
          limits={limitsOf(line, air, channels)}
          isOn={line === chosen}
          stands={line === stands}
          disabled={disabled}
          onChoose={onAir ? () => onChoose(`line:${line.id}`) : undefined}
          onBring={onBring && (() => onBring(line === stands ? null : line.id))}
        >
          {line === stands && onStrip && <StripFields strip="line" name={line.name} onChange={onStrip} />}
        </Line>
      ))}
      {standsAway && onBring && (
        <p className="small-words">
          The line on the stage brings nothing at this moment.{' '}
          <Button variant="quiet" size="sm" disabled={disabled} onClick={() => onBring(null)}>
            Take it off the stage
          </Button>
        </p>
      )}
      {away && <p className="small-words">The line that was chosen brings nothing at this moment: viewers see the break card until it does.</p>}
      {withStage && air.chosen.startsWith('line:') && (
        <Button size="sm" disabled={disabled} onClick={() => onChoose('stage')}>
          Back to the stage
        </Button>
      )}
    </section>
  );
}

/** What single channels of the show would not take of what comes. */
function limitsOf({ facts, normalised }: OutsideOnAir, air: AirView, channels: readonly ChannelView[]): string[] {
  return air.airings.flatMap(({ channel: { id } }) => {
    const channel = channels.find((each) => each.id === id);
    return channel ? beyondLimits(facts, normalised, channel.rules.video).map((beyond) => sayBeyondLimit(beyond, inFull(channel.name, channel.network))) : [];
  });
}

interface LineProps {
  line: OutsideOnAir;
  limits: readonly string[];
  isOn: boolean;
  stands: boolean;
  disabled: boolean;
  onChoose?: () => void;
  onBring?: () => void;
  children?: ReactNode;
}

function Line({ line, limits, isOn, stands, disabled, onChoose, onBring, children }: LineProps) {
  const toMind = [...limits, ...line.words];
  return (
    <div className="outside-line">
      <div>
        <b>{line.name}</b> <span className="soft small-words">{isOn ? 'in the programme' : stands ? 'on the stage' : 'comes in'}</span>
        <div className="small-words soft">{sayOutsideFacts(line.facts)}</div>
        {/* What comes by way of the stage is made anew there: that concerns only what goes past it. */}
        {isOn || (!onBring && !stands) ? (
          <>
            {limits.map((words) => (
              <Notice key={words} kind="caution" live={false}>
                {words}
              </Notice>
            ))}
            <ToMind summary={line.normalised ? 'It is made anew before it goes out: why' : 'To mind'} words={line.words} />
          </>
        ) : (
          !stands && <ToMind summary="To mind, where it goes past the stage" words={toMind} />
        )}
      </div>
      {children}
      <div className="d-flex flex-wrap gap-2 align-items-start">
        {onBring && (
          <Button size="sm" variant="outline-primary" disabled={disabled} onClick={onBring}>
            {stands ? 'Take it off the stage' : 'Bring it to the stage'}
          </Button>
        )}
        {!isOn && onChoose && (
          <Button size="sm" variant={onBring ? 'quiet' : 'outline-primary'} disabled={disabled} onClick={onChoose}>
            {onBring ? 'Past the stage, into the programme' : 'Put it in the programme'}
          </Button>
        )}
      </div>
    </div>
  );
}

function ToMind({ summary, words }: { summary: string; words: readonly string[] }) {
  if (!words.length) return null;
  return (
    <details className="small-words">
      <summary>{summary}</summary>
      {words.map((each) => (
        <p key={each} className="mb-1">
          {each}
        </p>
      ))}
    </details>
  );
}
