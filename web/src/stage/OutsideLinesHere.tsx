// What comes on outside lines, beside the stage: to be seen, and to be put into the programme.
import type { AirView, ChannelView, OutsideOnAir } from '@lantern/contract';
import { beyondLimits, meterShare, sayBeyondLimit, sayOutsideFacts, shows, type SourceId } from '@lantern/core';
import type { ReactNode } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useShallow } from 'zustand/react/shallow';
import { useChannels } from '../channels/channel-queries';
import { inFull } from '../look/channel-words';
import { Notice } from '../look/Notice';
import { sceneIn, useStage, type StageState } from './stage-store';

interface Props {
  air: AirView;
  disabled: boolean;
  /** Whether a stage makes a picture here, to which one can go back. */
  withStage: boolean;
  onChoose: (source: SourceId) => void;
  /** Has a line stand on the stage, or none; missing: no picture is made here. */
  onBring?: (line: string | null) => void;
  onStrip?: (change: Partial<StageState['line']>) => void;
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
          {line === stands && onStrip && <LineStrip name={line.name} onChange={onStrip} />}
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

/** The line's sound in the mixer: heard by viewers on the scenes that show it, and by the host where they want to. */
function LineStrip({ name, onChange }: { name: string; onChange: (change: Partial<StageState['line']>) => void }) {
  const { on, volume, here } = useStage(useShallow(({ line: { on, volume, here } }) => ({ on, volume, here })));
  const seen = useStage(({ scenes, programme }) => shows(sceneIn(scenes, programme), 'line'));
  const level = useStage((state) => state.level.line);
  return (
    <div className="small-words" role="group" aria-label={`Sound of ${name}`}>
      <div className="meter mb-2" role="meter" aria-label={`Level of ${name}`} aria-valuemin={-60} aria-valuemax={0} aria-valuenow={Math.round(level.rmsDb)}>
        <div style={{ transform: `scaleX(${meterShare(level.rmsDb)})` }} />
      </div>
      <div className="d-flex gap-3 align-items-center">
        <label htmlFor="line-volume">Volume</label>
        <Form.Range id="line-volume" min={0} max={1} step={0.05} value={volume} onChange={({ target }) => onChange({ volume: Number(target.value) })} />
        <span className="soft text-nowrap">{Math.round(volume * 100)} %</span>
      </div>
      <Form.Check
        id="line-on"
        checked={on}
        onChange={({ target }) => onChange({ on: target.checked })}
        label={seen || !on ? 'Heard by viewers' : 'Heard by viewers on the scenes that show it'}
      />
      <Form.Check id="line-here" checked={here} onChange={({ target }) => onChange({ here: target.checked })} label="Heard by me, here" />
    </div>
  );
}
