// When the steps towards a show are due.
import { MILESTONE_MAX_MS, type MilestoneTimes } from '@lantern/core';
import { IsInt, IsOptional, Max, Min } from 'class-validator';

/** Times of a show's steps that differ from the station's, in ms; null: not needed. */
export class MilestoneTimesDraft implements Partial<MilestoneTimes> {
  @IsMilestoneTime() artwork?: number | null;
  @IsMilestoneTime() announce?: number | null;
  @IsMilestoneTime() guests?: number | null;
  @IsMilestoneTime() 'tech check'?: number | null;
  @IsMilestoneTime() 'holding card'?: number | null;
  @IsMilestoneTime() 'replay down'?: number | null;
}

export function IsMilestoneTime() {
  return (target: object, propertyName: string) => {
    IsOptional()(target, propertyName);
    IsInt({ message: 'Give whole minutes, hours or days.' })(target, propertyName);
    Min(0, { message: 'This cannot be negative.' })(target, propertyName);
    Max(MILESTONE_MAX_MS, { message: 'This is more than a year.' })(target, propertyName);
  };
}
