// Who may see a show from outside. One place decides for page, data, stream of changes, picture and programme
// alike; whoever may not is answered as if there were nothing.
import type { HouseVisibility } from '@lantern/contract';
import { Inject, Injectable } from '@nestjs/common';
import type { CookieOptions, Request, Response } from 'express';
import { randomBytes } from 'node:crypto';
import { digestOf, sameText } from '../foundation/digest';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import { Vault } from '../foundation/vault';
import type { Invitation } from '../invitations/invitation.entities';
import { InvitationsService } from '../invitations/invitations.service';
import type { Station } from '../people/people.entities';
import type { Show } from '../shows/show.entities';
import { isCalledOff } from '../shows/show-facts';
import { ShowRows } from '../shows/show-rows';
import { Stations } from '../people/stations';

const PASS_COOKIE = 'lantern_pass_';
const CODE_COOKIE = 'lantern_code_';
const COOKIE_LIVES_MS = 60 * 86_400_000;
/** Compared with where there is nothing to compare with, so that both take as long. */
const NOBODY = digestOf('nobody');

/** A visitor who may see a show. */
export interface Admitted {
  show: Show;
  station: Station;
  invitation: Invitation | null;
}

/** Tries a minute: enough for a family behind one address; too few for filling a book with strangers. */
export const FEW = { default: { limit: 6, ttl: 60_000 } };

export const NOTHING_HERE = 'There is nothing for you at this address. Check the link that you were given.';
const nothing = () => new PlainError(404, NOTHING_HERE);

@Injectable()
export class VisitorsService {
  constructor(
    private readonly stations: Stations,
    private readonly showRows: ShowRows,
    private readonly invitations: InvitationsService,
    private readonly vault: Vault,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  /** The show behind an address, for this visitor. Throws the same for an unknown address and for a show that is not for them. */
  async admit(request: Request, slug: string): Promise<Admitted> {
    const show = await this.showRows.bySlug(slug);
    // Asked in any case: an answer must not come sooner where there is nothing.
    const invitation = await this.invitations.bySecret(show?.id ?? '', this.passIn(request, slug) ?? '');
    const station = await this.stations.byId(show?.stationId ?? '');
    const supports = sameText(
      cookieIn(request, CODE_COOKIE + (station?.id ?? '')) ?? '',
      this.supporterMark(station?.id ?? '', station?.supportersHash ?? NOBODY),
    );
    if (!show || !station || (show.state === 'draft' && !isCalledOff(show))) throw nothing();
    const open: Record<HouseVisibility, boolean> = {
      everyone: true,
      'link holders': true,
      'invited people': invitation !== null,
      supporters: supports && station.supportersHash !== null,
    };
    if (!open[show.houseVisibility]) throw nothing();
    return { show, station, invitation };
  }

  /** Whether anybody with the address may see a show. */
  async isOpen(slug: string): Promise<boolean> {
    const show = await this.showRows.bySlug(slug);
    if (!show || (show.state === 'draft' && !isCalledOff(show))) return false;
    return show.houseVisibility === 'everyone' || show.houseVisibility === 'link holders';
  }

  /** Keeps the pass of an invitation in the browser, so that it does not stay in the address. */
  keepPass(response: Response, slug: string, secret: string): void {
    response.cookie(PASS_COOKIE + slug, secret, this.cookie());
  }

  /** Takes a supporters' code for the station of a show. The same no for a wrong code and for an address that has none. */
  async takeCode(response: Response, slug: string, code: string): Promise<void> {
    const show = await this.showRows.bySlug(slug);
    const station = await this.stations.byId(show?.stationId ?? '');
    const digest = digestOf(tidy(code));
    if (!sameText(digest, station?.supportersHash ?? NOBODY) || !station?.supportersHash)
      throw new PlainError(403, 'This code is not right, or there is nothing here that a code opens.');
    response.cookie(CODE_COOKIE + station.id, this.supporterMark(station.id, digest), this.cookie());
  }

  /** A new code for supporters; the old one, and whoever came in by it, is let in no more. */
  async newCode(stationId: string): Promise<string> {
    const letters = 'abcdefghjkmnpqrstuvwxyz23456789';
    const code = Array.from(randomBytes(12), (byte, index) => letters[byte % letters.length]! + (index % 4 === 3 && index < 11 ? '-' : '')).join('');
    await this.stations.change(stationId, { supportersHash: digestOf(tidy(code)) });
    return code;
  }

  /** What a supporter's browser keeps. What is kept here is not enough to make it. */
  private supporterMark(stationId: string, digest: string): string {
    return this.vault.mark(`supporter ${stationId} ${digest}`);
  }

  private passIn(request: Request, slug: string): string | null {
    const asked = request.query.pass;
    return typeof asked === 'string' ? asked : cookieIn(request, PASS_COOKIE + slug);
  }

  private cookie(): CookieOptions {
    return { httpOnly: true, sameSite: 'lax', secure: this.settings.publicUrl.startsWith('https:'), maxAge: COOKIE_LIVES_MS, path: '/' };
  }
}

const tidy = (code: string): string => code.toLowerCase().replace(/[^a-z0-9]/g, '');

function cookieIn(request: Request, name: string): string | null {
  const found = (request.headers.cookie ?? '').split(/;\s*/).find((cookie) => cookie.startsWith(`${name}=`));
  if (!found) return null;
  try {
    return decodeURIComponent(found.slice(name.length + 1));
  } catch {
    return null; // Somebody's own cookie, written by hand.
  }
}
