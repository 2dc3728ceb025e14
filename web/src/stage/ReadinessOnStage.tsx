// Before going on air: what is ready and what is not, with what only a stage knows.
import type { ShowView } from '@lantern/contract';
import { sayReady } from '@lantern/core';
import { useShallow } from 'zustand/react/shallow';
import { useNow } from '../app/clock';
import { ReadyList, useReadyPoints } from '../shows/readiness';
import { useStage } from './stage-store';
import { useUplink } from './uplink-trial';

export function ReadinessOnStage({ show }: { show: ShowView }) {
  const now = useNow(30_000);
  const stage = useStage(
    useShallow(({ devices, levels, heard, camera }) => ({
      deviceTrouble: devices.state === 'asking' ? 'The browser has not said yet whether they may be used.' : devices.words,
      sound: levels.verdicts.microphone,
      heard,
      camera,
    })),
  );
  const uplinkKbps = useUplink(true);
  const points = useReadyPoints(show, now, { ...stage, uplinkKbps });
  return (
    <details className="readiness small-words">
      <summary>
        <span role="status">{sayReady(points)}</span>
      </summary>
      <ReadyList points={points} sheet={`/shows/${show.id}`} beside />
    </details>
  );
}
