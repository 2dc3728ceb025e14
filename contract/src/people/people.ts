// Who may use a station.
import { IsEmail, IsNotEmpty, IsString, Length, MaxLength } from 'class-validator';

export type Role = 'owner' | 'producer' | 'moderator';

export const PASSWORD_MIN = 10;

/** Asked once, by a server that has no station yet. */
export class SetUpRequest {
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
}

export interface Me {
  personId: string;
  name: string;
  role: Role;
  station: { id: string; name: string };
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
