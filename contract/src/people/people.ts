// Who may use a station.
import { IsZoneName } from '../rules/times';
import { IsEmail, IsNotEmpty, IsOptional, IsString, Length, MaxLength } from 'class-validator';
import type { Role } from '@lantern/core';

export type { Role } from '@lantern/core';

export const PASSWORD_MIN = 12;

/** Asked once, by a server that has no station yet. */
export class SetUpRequest {
  /** Printed where the server was started: whoever reads it there may open the station. */
  @IsString()
  @IsNotEmpty({ message: 'Type the code that was printed where the server was started.' })
  @MaxLength(40, { message: 'This is not the code.' })
  code!: string;

  /** IANA zone of the station. */
  @IsZoneName()
  zone!: string;

  @IsString()
  @IsNotEmpty({ message: 'Give your station a name.' })
  @MaxLength(80, { message: 'Keep the station’s name to 80 characters.' })
  stationName!: string;

  @IsString()
  @IsNotEmpty({ message: 'Tell us your name.' })
  @MaxLength(80, { message: 'Keep your name to 80 characters.' })
  name!: string;

  @IsEmail({}, { message: 'This does not look like an email address.' })
  @MaxLength(200, { message: 'This address is too long.' })
  email!: string;

  @IsString()
  @Length(PASSWORD_MIN, 200, { message: `Choose a password of ${PASSWORD_MIN} to 200 characters.` })
  password!: string;
}

export class SignInRequest {
  @IsEmail({}, { message: 'This does not look like an email address.' })
  @MaxLength(200, { message: 'This address is too long.' })
  email!: string;

  @IsString()
  @IsNotEmpty({ message: 'Type your password.' })
  @MaxLength(200, { message: 'This password is too long.' })
  password!: string;

  /** Of whoever has a second factor. */
  @IsOptional()
  @IsString()
  @MaxLength(20, { message: 'A code is shorter.' })
  code?: string;
}

/** A new password for somebody who is signed in. */
export class PasswordChange {
  @IsString()
  @IsNotEmpty({ message: 'Type your present password.' })
  @MaxLength(200)
  password!: string;

  @IsString()
  @Length(PASSWORD_MIN, 200, { message: `Choose a password of ${PASSWORD_MIN} to 200 characters.` })
  next!: string;
}

/** A browser that is signed in, as its person sees it. */
export interface SessionView {
  id: string;
  /** "Firefox on Linux". */
  browser: string;
  openedAt: number;
  seenAt: number;
  /** The one that asks. */
  own: boolean;
}

export interface Me {
  personId: string;
  name: string;
  email: string;
  role: Role;
  station: { id: string; name: string };
  /** Where stages connect: an address of its own; null: the host of the page, at this port. */
  air: { url: string | null; port: number };
}

export interface SetUpState {
  needed: boolean;
}

/** Given again before keys are shown: a browser left open must not be enough. */
export class PasswordAgain {
  @IsString()
  @IsNotEmpty({ message: 'Type your password.' })
  @MaxLength(200)
  password!: string;
}
