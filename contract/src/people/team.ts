// The people of a station: who they are, who is invited, and how one gets in and back in.
import { ROLES, type Role } from '@lantern/core';
import { IsEmail, IsIn, IsNotEmpty, IsString, Length, Matches, MaxLength } from 'class-validator';
import { PASSWORD_MIN } from './people';

export interface TeamMember {
  id: string;
  name: string;
  /** Null: only whoever keeps the team sees it. */
  email: string | null;
  role: Role;
  /** Whether it is whoever asks. */
  own: boolean;
  /** When one of their browsers was last seen, to the hour; null: they are signed in nowhere. */
  seenAt: number | null;
}

/** Somebody who was asked to join and has not yet. Only whoever keeps the team is told of them. */
export interface InvitedToTeam {
  id: string;
  email: string;
  role: Role;
  invitedBy: string;
  /** Until when the pass is good. */
  until: number;
}

export interface TeamView {
  people: TeamMember[];
  invited: InvitedToTeam[];
}

export class TeamInvite {
  @IsEmail({}, { message: 'This does not look like an email address.' })
  @MaxLength(200, { message: 'This address is too long.' })
  email!: string;

  @IsIn(ROLES, { message: 'Choose one of the roles.' })
  role!: Role;
}

export class RoleChange {
  @IsIn(ROLES, { message: 'Choose one of the roles.' })
  role!: Role;
}

export class NameChange {
  @IsString()
  @IsNotEmpty({ message: 'Tell us your name.' })
  @MaxLength(80, { message: 'Keep your name to 80 characters.' })
  name!: string;
}

/** What a mail brought: it is in the address behind “#”, and so in no log. */
export class PassShown {
  @IsString()
  @Length(20, 100, { message: 'This pass is not whole. Open the address from the mail again.' })
  pass!: string;
}

/** What a pass into a team says of itself. */
export interface TeamPassView {
  stationName: string;
  email: string;
  role: Role;
  invitedBy: string;
}

export class JoinRequest extends PassShown {
  @IsString()
  @IsNotEmpty({ message: 'Tell us your name.' })
  @MaxLength(80, { message: 'Keep your name to 80 characters.' })
  name!: string;

  @IsString()
  @Length(PASSWORD_MIN, 200, { message: `A password has at least ${PASSWORD_MIN} characters.` })
  password!: string;
}

export class ForgottenPassword {
  @IsEmail({}, { message: 'This does not look like an email address.' })
  @MaxLength(200, { message: 'This address is too long.' })
  email!: string;
}

export class PasswordAnew extends PassShown {
  @IsString()
  @Length(PASSWORD_MIN, 200, { message: `A password has at least ${PASSWORD_MIN} characters.` })
  password!: string;
}

/** Whether somebody shows a code besides their password, and how many spare ones they have. */
export interface SecondFactorView {
  on: boolean;
  sparesLeft: number;
}

/** A secret for an app: to be typed, or as a code that it reads. */
export interface SecondFactorStart {
  secret: string;
  uri: string;
}

/** Each good once, and shown once. */
export interface SpareCodes {
  spares: string[];
}

export class CodeShown {
  @IsString()
  @Length(6, 20, { message: 'Type the six figures that your app shows.' })
  code!: string;
}

/** Whoever has a show open says so as often as this, in ms. */
export const HERE_EVERY_MS = 10_000;

/** In which tab a show is open, and what of it. */
export class HereNow {
  @Matches(/^[0-9a-f]{16}$/)
  tab!: string;

  @IsIn(['sheet', 'stage'])
  place!: 'sheet' | 'stage';
}

/** Somebody else who has a show open. */
export interface OtherHere {
  personId: string;
  name: string;
  role: Role;
  place: 'sheet' | 'stage';
}
