// What the public may know about a show, and what it may ask for.
import type { LettersName, Palette, Chapter } from '@lantern/core';
import { IsEmail, IsNotEmpty, IsOptional, IsString, Matches, MaxLength } from 'class-validator';
import { IsZoneName } from '../rules/times';

export { HOUSE_VISIBILITIES, type HouseVisibility } from '@lantern/core';

export interface HouseView {
  title: string;
  description: string;
  stationName: string;
  stationUrl: string;
  state: 'coming' | 'onAir' | 'paused' | 'over' | 'withdrawn';
  startsAt: number;
  zone: string;
  lengthMs: number;
  people: { name: string; role: 'host' | 'guest' }[];
  thumbnailUrl: string | null;
  /** What stands where the picture will be, until the show begins; null: the thumbnail. */
  waitingUrl: string | null;
  /** The colours and letters of the look in which it was made, which are the countdown's too; null: it came as a file. `url`: of letters of the station's own. */
  waitingLook: { palette: Palette; letters: LettersName; url: string | null } | null;
  /** What the picture shows, for those who cannot see it. */
  thumbnailAlternative: string;
  /** Address of the programme's HLS playlist while it can be watched. */
  playlistUrl: string | null;
  /** The same where it is packed, on another port of this host, or at `url`; null: only those may see it whom the planning server knows. */
  playlistBeside: { url: string | null; port: number; path: string } | null;
  trailerUrl: string | null;
  /** The recording, where it may be seen here; `coming`: it is still being put together. */
  replay: { url: string; lengthMs: number; chapters: Chapter[]; captions: { url: string; language: string } | null } | 'coming' | null;
  /** The picture goes straight to the channels and cannot be shown here. */
  fromOutside: boolean;
  elsewhere: { name: string; network: string; watchUrl: string }[];
  /** Where to point others: the lasting address; null where the show is not for passing on. */
  shareUrl: string | null;
  calendarUrl: string;
  /** Whether one can ask the host something. */
  questions: boolean;
  /** Whether visitors can write for all to read, and from when on; null: they cannot. */
  talk: { from: number } | null;
  /** Whether one can ask to be reminded by mail. */
  reminders: boolean;
  /** The visitor's own invitation, where they came by one. */
  invitation: { name: string; answer: InvitationAnswer } | null;
  now: number;
}

export type InvitationAnswer = 'asked' | 'accepted' | 'declined';

/** Line ends and other control characters in a name would be headers of a mail. */
export const NO_CONTROLS = /^[^\u0000-\u001f\u007f]*$/;

export class ReminderRequest {
  @IsEmail({}, { message: 'This does not look like an email address.' })
  @MaxLength(200, { message: 'This address is too long.' })
  email!: string;

  /** Where the visitor is, so that mails say the start on their clock. */
  @IsOptional()
  @IsZoneName()
  zone?: string;
}

export class CodeRequest {
  @IsString()
  @IsNotEmpty({ message: 'Type the code.' })
  @MaxLength(60, { message: 'This is not a code.' })
  code!: string;
}

/** That the page was opened, or its picture played: counted, and nothing else. */
export class SeenHere {
  @Matches(/^(page|play)$/, { message: 'Say what was seen.' })
  what!: 'page' | 'play';

  @IsString()
  @MaxLength(60, { message: 'This is too long.' })
  @Matches(NO_CONTROLS, { message: 'This has no line breaks.' })
  source!: string;
}

/** Somebody who can be written to. */
export class NamedAddress {
  @IsString()
  @IsNotEmpty({ message: 'Give their name.' })
  @MaxLength(80, { message: 'Keep the name to 80 characters.' })
  @Matches(NO_CONTROLS, { message: 'A name has no line breaks.' })
  name!: string;

  @IsEmail({}, { message: 'This does not look like an email address.' })
  @MaxLength(200, { message: 'This address is too long.' })
  email!: string;
}

export class InvitationRequest extends NamedAddress {}

export class InvitationAnswerRequest {
  @Matches(/^(accepted|declined)$/, { message: 'Say whether you come.' })
  answer!: 'accepted' | 'declined';
}

export interface InvitationView {
  id: string;
  name: string;
  email: string;
  answer: InvitationAnswer;
  invitedAt: number;
}

/** Who is told about a show, for its host. */
export interface AudienceView {
  asked: number;
  confirmed: number;
  invitations: InvitationView[];
}

/** A code for supporters, told once. */
export interface SupportersCode {
  code: string;
}
