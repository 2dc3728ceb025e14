// Guests of a show: who was asked, what their pass opens, and what door, green room and stage say to each other.
import { LONGEST_NOTE, type GuestPlace, type GuestSeat, type GuestStanding, type LookChoices, type Scene, type SpeakerAnswer } from '@lantern/core';
import { IsBoolean, IsEmail, IsIn, IsInt, IsNotEmpty, IsOptional, IsString, Max, MaxLength, Min, ValidateNested } from 'class-validator';
import { Type } from 'class-transformer';
import type { OwnSoundConsent } from '../own-sounds/own-sounds';
import { PassShown } from '../people/team';
import { IsZoneName } from '../rules/times';

export type GuestAnswer = 'asked' | 'accepted' | 'declined';

/** Somebody who is asked to be in a show. */
export class GuestInvite {
  @IsString()
  @IsNotEmpty({ message: 'Say who they are.' })
  @MaxLength(80, { message: 'Keep a name to 80 characters.' })
  name!: string;

  @IsOptional()
  @IsString()
  @MaxLength(80, { message: 'Keep what stands beneath a name to 80 characters.' })
  caption?: string;

  /** Where they are: mails and the door speak of their own time. Missing: with the show. */
  @IsOptional()
  @IsZoneName()
  zone?: string | null;

  /** Missing: the pass is handed over by hand. */
  @IsOptional()
  @IsEmail({}, { message: 'This does not look like an email address.' })
  @MaxLength(200, { message: 'This address is too long.' })
  email?: string | null;

  /** Asked for the dates to come of the same series as well. */
  @IsOptional()
  @IsBoolean()
  allDates?: boolean;
}

/** What was found when a guest tried it out. Rates in kbit/s, the echo as heard by themselves. */
export class TriedOut {
  @IsBoolean() camera!: boolean;
  @IsBoolean() microphone!: boolean;
  @IsString() @MaxLength(40) picture!: string;
  @IsOptional() @IsInt() @Min(0) @Max(10_000_000) uplinkKbps!: number | null;
  @IsOptional() @IsBoolean() echo!: boolean | null;
}

export interface GuestView {
  id: string;
  name: string;
  caption: string;
  zone: string | null;
  /** Null: there is none, or whoever looks may not see it. */
  email: string | null;
  answer: GuestAnswer;
  /** What they wrote with their answer. */
  word: string;
  invitedAt: number;
  tried: (TriedOut & { at: number }) | null;
  standing: GuestStanding;
  /** Pages of networks that name speakers: how it stands there, in words. */
  onPages: { channel: string; words: string }[];
  ownSound: OwnSoundConsent;
}

/** A pass, to be handed over: whoever has it is let in as that guest. */
export interface GuestPassLink {
  url: string;
}

/** What the door says to whoever shows a pass. */
export interface DoorView {
  /** Names the guest, and is no secret. */
  guestId: string;
  showId: string;
  stationName: string;
  title: string;
  /** A rehearsal: nothing of it goes out. */
  rehearsal: boolean;
  startsAt: number;
  lengthMs: number;
  /** When they are to come. */
  comeAt: number;
  zone: string;
  name: string;
  caption: string;
  answer: GuestAnswer;
  word: string;
  isOver: boolean;
  /** Whether the host wants their own sound as a file of its own, what they have said to it, and whether something of it is kept. */
  ownSound: { wanted: boolean; said: OwnSoundConsent; kept: boolean };
  /** Where the show is sent, by name. */
  sentTo: string[];
  /** Who can see it, in words. */
  seenBy: string;
  houseUrl: string;
  /** Pages of networks that name them once they have said yes there too, and where they do. */
  onPages: { channel: string; answer: SpeakerAnswer; url: string }[];
  /** The scene on which they will be seen, and its look. */
  scene: Scene;
  look: LookChoices;
  air: { port: number; url: string | null };
}

export class StrapChange extends PassShown {
  @IsString()
  @IsNotEmpty({ message: 'Tell us how you are called.' })
  @MaxLength(80, { message: 'Keep your name to 80 characters.' })
  name!: string;

  @IsString()
  @MaxLength(80, { message: 'Keep this line to 80 characters.' })
  caption!: string;
}

export class AnswerChange extends PassShown {
  @IsIn(['accepted', 'declined'])
  answer!: 'accepted' | 'declined';

  @IsString()
  @MaxLength(LONGEST_NOTE, { message: `Keep it to ${LONGEST_NOTE} characters.` })
  word!: string;
}

export class TriedOutReport extends PassShown {
  @ValidateNested()
  @Type(() => TriedOut)
  found!: TriedOut;
}

/** What WebRTC is told of ways through other people’s routers (RFC 8489, RFC 8656). */
export interface WayThrough {
  urls: string[];
  username?: string;
  credential?: string;
}

/** A guest who is in the green room, or was there a moment ago and keeps the place. */
export interface GuestThere {
  id: string;
  seat: GuestSeat;
  name: string;
  caption: string;
  connected: boolean;
  /** In the programme on whatever scene has their seat. */
  broughtIn: boolean;
  /** Muted by the team. */
  muted: boolean;
  ownMicrophone: boolean;
  ownCamera: boolean;
  /** Without a camera by choice or because there is none. */
  soundOnly: boolean;
  /** They offer what is on their screen. */
  offersShare: boolean;
  /** Whether they can show the programme as it comes from the server; else the stage sends it to them. */
  seesReturn: boolean;
  /** What their browser says their uplink gives, in kbit/s; null: not known. */
  uplinkKbps: number | null;
  /** What they wrote last to the team; empty: nothing. */
  says: string;
  saysAt: number;
  place: GuestPlace;
}

/** An offer, an answer or a candidate of WebRTC (RFC 8829). `line` numbers the connections of one guest with one stage. */
export type GuestSignal =
  | { line: number; sdp: { type: 'offer' | 'answer'; sdp: string } }
  | { line: number; candidate: { candidate: string; sdpMid: string | null; sdpMLineIndex: number | null } | null };

/** From a guest's page. The first is the pass. */
export type FromGuest =
  | { type: 'hello'; pass: string; page: string; takeOver: boolean; soundOnly: boolean; seesReturn: boolean }
  /** `to`: the page of the stage. */
  | { type: 'signal'; to: string; data: GuestSignal }
  | { type: 'own'; microphone: boolean; camera: boolean; offersShare: boolean; uplinkKbps: number | null }
  | { type: 'note'; words: string }
  | { type: 'leave' };

export interface GreenRoomView {
  name: string;
  caption: string;
  place: GuestPlace;
  muted: boolean;
  /** Others who are there, by name, and whether they are in the programme. */
  others: { name: string; place: GuestPlace }[];
  /** Who is at the stage; null: nobody yet. */
  host: string | null;
  onAir: boolean;
  rehearsal: boolean;
  /** The server's clock. */
  now: number;
}

/** To a guest's page; beside these, the programme as pictures (`ReturnPicture`), binary. */
export type ToGuest =
  | { type: 'room'; room: GreenRoomView }
  /** The stage to speak with from now on, and how; null: there is none at this moment. `coming`: the one to which the show is being handed over. */
  | { type: 'stage'; page: string | null; coming: string | null; ways: WayThrough[]; relayOnly: boolean }
  | { type: 'signal'; from: string; data: GuestSignal }
  /** A picture of this height is enough for a stage, in pixels. */
  | { type: 'size'; from: string; height: number }
  | { type: 'note'; words: string; from: string }
  | { type: 'share'; wanted: boolean }
  /** Another device has this pass at this moment: which shall stay? */
  | { type: 'elsewhere' }
  /** Another device has taken the place. */
  | { type: 'taken' }
  | { type: 'refused'; words: string };

/** From the stage to guests; each is about one of them. */
export type GuestOrder =
  | { does: 'bring in' | 'take off' | 'mute' | 'unmute' }
  | { does: 'note'; words: string }
  | { does: 'share'; wanted: boolean }
  | { does: 'size'; height: number };

/** Why the socket of a guest was closed (RFC 6455, section 7.4.2): the pass is not good, or another device has the place. */
export const PASS_ENDED = 4403;
export const PLACE_TAKEN = 4410;

/** Where the programme goes back to guests as pictures: in place of a stretch's number, in the head of a piece. The second number: whether it is a key frame. */
export const RETURN_PICTURE = 0xffff_ffff;
