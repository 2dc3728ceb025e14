/** A rehearsal of a show. `state`: whether it can begin, runs, or is over. */
export interface RehearsalView {
  id: string;
  state: 'ready' | 'running' | 'over';
  madeAt: number;
  onAirSince: number | null;
  endedAt: number | null;
  /** When it and its recording are thrown away by themselves. */
  until: number;
}
