// People whom a station writes to: its contacts, and the mail that goes out.
import { ArrayMaxSize, ArrayMinSize, ArrayUnique, IsArray, IsEmail, IsNotEmpty, IsString, IsUUID, Matches, MaxLength } from 'class-validator';
import { NamedAddress, NO_CONTROLS } from '../house/house';

export const GROUPS_MAX = 10;
/** Of an import, in characters. */
export const CONTACTS_TEXT_MAX = 1_000_000;

export class ContactDraft extends NamedAddress {
  @IsArray()
  @ArrayMaxSize(GROUPS_MAX, { message: `A contact is in at most ${GROUPS_MAX} groups.` })
  @ArrayUnique((group: unknown) => String(group).toLowerCase(), { message: 'Each group can be named once.' })
  @IsString({ each: true })
  @IsNotEmpty({ each: true, message: 'A group has a name.' })
  @MaxLength(40, { each: true, message: 'Keep the name of a group to 40 characters.' })
  @Matches(NO_CONTROLS, { each: true, message: 'The name of a group has no line breaks.' })
  groups: string[] = [];
}

export interface ContactView extends ContactDraft {
  id: string;
  /** What stands beneath their name where they are a guest, and where they are. */
  caption: string;
  zone: string | null;
}

/** A table as text: a line of headings with “Name” and “Address”, and “Groups” where there are any. */
export class ContactsText {
  @IsString()
  @MaxLength(CONTACTS_TEXT_MAX, { message: 'This table is too large. Bring it in by parts.' })
  text!: string;
}

export interface ContactsImported {
  added: number;
  changed: number;
  /** Lines that could not be taken, counted from 1, with the reason. */
  refused: { line: number; words: string }[];
}

/** Contacts who are to be invited to a show. */
export class InviteContacts {
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose whom to invite.' })
  @ArrayMaxSize(1_000, { message: 'Invite at most 1,000 people at once.' })
  @IsUUID(undefined, { each: true, message: 'One of these contacts is not known here.' })
  contactIds!: string[];
}

export interface ContactsInvited {
  invited: number;
  /** Who was invited before. */
  before: number;
}

/** `waiting`: not sent yet; `failing`: tried, and tried again later; `given up`: tried for about a day. */
export type MailState = 'waiting' | 'sent' | 'failing' | 'given up';

/** A mail of the outbox. Its text holds links that are secrets, and is not shown. */
export interface MailView {
  id: string;
  recipient: string;
  subject: string;
  state: MailState;
  /** When it was sent, or is tried next. */
  at: number;
  /** What the mail server said last; empty: nothing. */
  trouble: string;
}

export interface OutboxView {
  /** Whether mails go to a mail server, or into a folder that stands in for one. */
  server: boolean;
  mails: MailView[];
  counts: Record<MailState, number>;
}

/** Whose data is looked for. */
export class PersonAsked {
  @IsEmail({}, { message: 'This does not look like an email address.' })
  @MaxLength(200, { message: 'This address is too long.' })
  email!: string;
}

/** Rows of one kind that have their address. `stays`: why some of them cannot be removed; empty: they all can. */
export interface KeptPart {
  what: 'contact' | 'invitations' | 'reminders' | 'news' | 'guest' | 'mails';
  rows: Record<string, unknown>[];
  stays: string;
}

export interface PersonKept {
  email: string;
  parts: KeptPart[];
}
