// Channels of a station and how an account becomes one.
import type { AccountKind, NetworkId } from '@lantern/core';
import { IsIn, IsNotEmpty, IsOptional, IsString, IsUrl, Matches, MaxLength } from 'class-validator';

export const LINKABLE_NETWORKS: readonly NetworkId[] = ['reelmoor', 'townfold'];

export const NETWORK_NAMES: Record<NetworkId | 'typed-in', string> = {
  reelmoor: 'Reelmoor',
  townfold: 'Townfold',
  'typed-in': 'Typed in',
};

export interface ChannelView {
  id: string;
  network: NetworkId | 'typed-in';
  kind: AccountKind;
  name: string;
  /** Picture of the account as the network shows it; null where it has none. */
  pictureUrl: string | null;
  /** False once the network has said that access was withdrawn. */
  linked: boolean;
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

/** A channel on any service that gives an address and a key. */
export class TypedInChannelRequest {
  @IsString()
  @IsNotEmpty({ message: 'Give the channel a name you will recognise.' })
  @MaxLength(80, { message: 'Keep the name to 80 characters.' })
  name!: string;

  @Matches(/^rtmps?:\/\/[^\s/?#@]+(\/[^\s?#]*)?$/i, {
    message: 'The address starts with rtmp:// or rtmps:// and has no spaces.',
  })
  @MaxLength(500, { message: 'This address is too long.' })
  address!: string;

  @Matches(/^\S+$/, { message: 'Paste the key the service gave you, without spaces.' })
  @MaxLength(500, { message: 'This key is too long.' })
  key!: string;

  @IsOptional()
  @IsUrl({ require_tld: false, protocols: ['http', 'https'], require_protocol: true }, { message: 'The watch address starts with https://.' })
  @MaxLength(500, { message: 'This address is too long.' })
  watchUrl?: string;
}
