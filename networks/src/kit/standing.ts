// Whether an account may broadcast. Each network asks for its own conditions; the facts stand in the account.
import { now } from './clock';
import type { Account } from './entities';
import { Refusal } from './refusal';

export const DAY_MS = 86_400_000;
export const WAIT_AFTER_ASKING_MS = DAY_MS;
export const OLDER_THAN_DAYS = 30;
export const CONNECTIONS = 50;
export const FOLLOWERS = 100;

/** Throws the first condition that the account does not meet. */
export function mustMayBroadcast(account: Account): void {
  const refuse = (text: string) => {
    throw new Refusal(403, 'not-eligible', text);
  };
  switch (account.network) {
    case 'reelmoor':
      if (!account.phoneVerified) refuse('Verify a phone number before broadcasting.');
      if (account.askedAt === null || now() < account.askedAt + WAIT_AFTER_ASKING_MS) refuse('Broadcasting is allowed a day after it was first asked for.');
      break;
    case 'townfold':
      if (account.role === 'reader') refuse('Your role there does not let you host.');
      if (account.kind === 'group' && !account.groupAllows) refuse('This group does not allow gatherings.');
      break;
    case 'guildhand':
      if (now() - account.openedAt <= OLDER_THAN_DAYS * DAY_MS) refuse('Accounts may hold talks once they are older than 30 days.');
      if (account.connections < CONNECTIONS) refuse('Accounts with 50 connections or more may hold talks.');
      break;
    case 'pipwire':
      if (account.followers < FOLLOWERS) refuse('Casting is for handles with 100 followers or more.');
  }
}
