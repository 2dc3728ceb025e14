// Channels of a station: how an account becomes one, whether it may broadcast, what it is set to.
import {
  CATEGORIES,
  readIngestAddress,
  readKey,
  sayAddressTrouble,
  type AccountKind,
  type Category,
  type ChannelDefaults,
  type Condition,
  type Licence,
  type LimitsByHand,
  type MessageRule,
  type NetworkId,
  type RuleNotice,
  type RuleSheet,
  type Visibility,
} from '@lantern/core';
import { Transform } from 'class-transformer';
import {
  IsBoolean,
  IsIn,
  IsInt,
  IsNotEmpty,
  IsOptional,
  IsString,
  IsUrl,
  Max,
  MaxLength,
  Min,
  registerDecorator,
  ValidateIf,
  type ValidationArguments,
} from 'class-validator';
import { IsPart } from '../rules/part';

export const LINKABLE_NETWORKS: readonly NetworkId[] = ['reelmoor', 'townfold', 'guildhand', 'pipwire'];

export const NETWORK_NAMES: Record<NetworkId | 'typed-in', string> = {
  reelmoor: 'Reelmoor',
  townfold: 'Townfold',
  guildhand: 'Guildhand',
  pipwire: 'Pipwire',
  'typed-in': 'Typed in',
};

/** Who speaks where: shown by picture, name and kind at every step that publishes. */
export interface ChannelIdentity {
  id: string;
  network: NetworkId | 'typed-in';
  kind: AccountKind;
  name: string;
  /** Picture of the account as the network shows it; null where it has none. */
  pictureUrl: string | null;
}

/**
 * Whether the station may act for the account. `ended`: access was withdrawn or has run out.
 * `unreadable`: the key file that seals its tokens is lost. Both are mended by linking again.
 */
export type ChannelAccess = 'good' | 'ended' | 'unreadable' | 'unlinked';

export interface ChannelView extends ChannelIdentity {
  access: ChannelAccess;
  /** The rules in force at this moment. */
  rules: RuleSheet;
  /** Announced changes that are not in force yet. */
  notices: RuleNotice[];
  defaults: ChannelDefaults;
  limits: LimitsByHand | null;
  conditions: Condition[];
  /** When the network was last asked about its conditions, in ms since the epoch; null: never. */
  conditionsAt: number | null;
  watchUrl: string | null;
  lines: { id: string; name: string }[];
}

export class LinkRequest {
  @IsIn(LINKABLE_NETWORKS, { message: 'Choose one of the networks listed.' })
  network!: NetworkId;
}

/** Where to send the browser so that the person can grant access. */
export interface LinkStarted {
  consentUrl: string;
}

/** What the granted access covers: one of these becomes the channel. */
export interface LinkChoices {
  linkId: string;
  network: NetworkId;
  identities: { id: string; name: string; kind: AccountKind; pictureUrl: string | null; alreadyLinked: boolean }[];
}

export class LinkChoice {
  @IsString()
  @IsNotEmpty({ message: 'Choose who the station speaks as.' })
  identityId!: string;
}

/** Coming shows that would lose their channel. `stands`: its event is on the network and stays there. */
export interface UnlinkPreview {
  shows: { id: string; title: string; startsAt: number; zone: string; stands: boolean }[];
}

/** A change of rules that a network has announced, and the shows that it touches. */
export interface RuleChangeView {
  id: string;
  /** "Townfold takes titles of 80 characters." */
  words: string;
  from: number;
  shows: { id: string; title: string; startsAt: number; zone: string; whatToDo: string }[];
}

/** An ingest address as `readIngestAddress` understands it, without a key inside. */
export function IsIngestAddress() {
  return (target: object, propertyName: string) =>
    registerDecorator({
      name: 'isIngestAddress',
      target: target.constructor,
      propertyName,
      validator: {
        validate: (value: unknown) => typeof value === 'string' && readIngestAddress(value).ok,
        defaultMessage: ({ value }: ValidationArguments) => {
          const reading = readIngestAddress(typeof value === 'string' ? value : '');
          return reading.ok ? '' : sayAddressTrouble(reading.trouble);
        },
      },
    });
}

/** A key without gaps. What surrounds it is taken off. */
export function IsIngestKey() {
  return (target: object, propertyName: string) =>
    registerDecorator({
      name: 'isIngestKey',
      target: target.constructor,
      propertyName,
      validator: {
        validate: (value: unknown) => typeof value === 'string' && !!readKey(value)?.key,
        defaultMessage: ({ value }: ValidationArguments) =>
          typeof value === 'string' && value.trim()
            ? 'There is a space or a line break inside this key. Copy it again.'
            : 'Paste the key that the service shows.',
      },
    });
}

const HAND_MESSAGE = 'Give a whole number, or leave it empty.';

/** A whole number that may be left empty: an empty field, or none, stands for no limit. */
function OptionalLimit(least: number, most: number, tooLittle: string): PropertyDecorator {
  const parts: PropertyDecorator[] = [
    Transform(({ value }: { value: unknown }) => (value === '' || value === undefined || Number.isNaN(value) ? null : value)),
    ValidateIf((_, value: unknown) => value !== null),
    IsInt({ message: HAND_MESSAGE }),
    Min(least, { message: tooLittle }),
    Max(most, { message: HAND_MESSAGE }),
  ];
  return (target, name) => parts.forEach((part) => part(target, name));
}

/** Limits of a service that we have no rules for, as far as the host knows them. */
export class LimitsTypedIn {
  @OptionalLimit(10, 10_000, 'Titles have at least 10 characters.')
  titleMax!: number | null;

  @OptionalLimit(10, 100_000, 'Texts have at least 10 characters.')
  textMax!: number | null;

  @OptionalLimit(1, 2_880, 'A show lasts at least a minute.')
  longestMin!: number | null;

  @OptionalLimit(200, 100_000, 'A picture needs at least 200 kbit/s.')
  maxKbps!: number | null;
}

/** What a host tells of a typed-in channel beside its line. */
class TypedInFacts {
  @IsString()
  @IsNotEmpty({ message: 'Give the channel a name you will recognise.' })
  @MaxLength(80, { message: 'Keep the name to 80 characters.' })
  name!: string;

  @IsOptional()
  @IsUrl({ require_tld: false, protocols: ['http', 'https'], require_protocol: true }, { message: 'The watch address starts with https://.' })
  @MaxLength(500, { message: 'This address is too long.' })
  watchUrl?: string;
}

/** A channel on any service that gives an address and a key. */
export class TypedInChannelRequest extends TypedInFacts {
  @IsIngestAddress()
  @MaxLength(500, { message: 'This address is too long.' })
  address!: string;

  @IsIngestKey()
  @MaxLength(500, { message: 'This key is too long.' })
  key!: string;

  @IsOptional()
  @IsPart(() => LimitsTypedIn)
  limits?: LimitsTypedIn;
}

/** Tries an address and a key: connects, shows the key, sends a moment of silence and no picture. */
export class TrialRequest {
  @IsIngestAddress()
  @MaxLength(500, { message: 'This address is too long.' })
  address!: string;

  @IsIngestKey()
  @MaxLength(500, { message: 'This key is too long.' })
  key!: string;
}

export interface TrialResult {
  found: 'taken' | 'refused' | 'unreachable' | 'certificate' | 'not-rtmp';
  words: string;
}

/** A page on which shows of a channel can be shared. `own`: it need not be asked. */
export interface PartnerView {
  id: string;
  name: string;
  own: boolean;
}

export class ChannelDefaultsRequest implements ChannelDefaults {
  @IsString()
  visibility!: Visibility;

  @IsOptional()
  @IsIn(CATEGORIES, { message: 'Choose a category from the list.' })
  category!: Category | null;

  @IsOptional()
  @IsString()
  @MaxLength(35)
  language!: string | null;

  @IsOptional()
  @IsString()
  messages!: MessageRule | null;

  @IsOptional()
  @IsInt()
  delayS!: number | null;

  @IsOptional()
  @IsBoolean()
  rewind!: boolean | null;

  @IsOptional()
  @IsBoolean()
  replay!: boolean | null;

  @IsOptional()
  @IsString()
  licence!: Licence | null;

  @IsOptional()
  @IsInt()
  listedDays!: number | null;

  @IsOptional()
  @IsBoolean()
  adverts!: boolean | null;

  @IsOptional()
  @IsBoolean()
  keepsMessages!: boolean | null;
}

/** What can be changed of a typed-in channel: everything but its line. */
export class TypedInChannelChange extends TypedInFacts {
  @IsPart(() => LimitsTypedIn)
  limits!: LimitsTypedIn;
}
