// What is to be announced of a show, and what became of it.
import { type Announcement, type AnnouncementTime, MILESTONE_MAX_MS } from '@lantern/core';
import { IsOptional, IsString, IsUUID, MaxLength, registerDecorator } from 'class-validator';

/** A text to be said somewhere at a time. */
export class AnnouncementDraft implements Announcement {
  @IsString()
  @MaxLength(40)
  id!: string;

  @IsString()
  @MaxLength(80, { message: 'Keep the place to 80 characters.' })
  place!: string;

  @IsString()
  @MaxLength(4_000, { message: 'Keep the text to 4,000 characters.' })
  text!: string;

  @IsAnnouncementTime()
  time!: AnnouncementTime;

  @IsOptional()
  @IsUUID(undefined, { message: 'One of these channels is not known here.' })
  channelId: string | null = null;
}

function IsAnnouncementTime() {
  return (target: object, propertyName: string) =>
    registerDecorator({
      name: 'isAnnouncementTime',
      target: target.constructor,
      propertyName,
      validator: {
        validate: (value: unknown) =>
          value === 'placed' || value === 'start' || (Number.isInteger(value) && (value as number) > 0 && (value as number) <= MILESTONE_MAX_MS),
        defaultMessage: () => 'Say when it is to be said.',
      },
    });
}

/** What became of an announcement that a channel was to make. */
export interface PostedView {
  at: number;
  /** Where it stands; null: it was refused. */
  url: string | null;
  /** Why it was refused, with the way out; empty otherwise. */
  words: string;
}
