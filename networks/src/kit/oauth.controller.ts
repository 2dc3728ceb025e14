// Granting access: OAuth 2 authorisation code with PKCE (RFC 6749 section 4.1, RFC 7636), one consent
// page per network. Redirects go to loopback addresses or those registered for the client (RFC 8252).
import { Body, Controller, Get, Header, HttpCode, Param, Post, Query, Res } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { TokenReply } from '@lantern/contract/network-http';
import { createHash } from 'node:crypto';
import type { Response } from 'express';
import { DataSource } from 'typeorm';
import { now } from './clock';
import { Account, Grant, Login, NETWORKS, type Network } from './entities';
import { NETWORK_LOOKS } from './looks';
import { escapeHtml, networkPage } from './pages';
import { Refusal } from './refusal';
import { digest, newId, newSecret, passwordFits } from './secrets';

const CODE_LIVES_MS = 60_000;
const ACCESS_LIVES_S = 600;
/** Access that nobody uses for so long has to be granted anew. */
const REFRESH_LIVES_MS = 30 * 86_400_000;
const CLIENT_ID = 'noble-lantern';

interface ConsentQuery {
  response_type?: string;
  client_id?: string;
  redirect_uri?: string;
  state?: string;
  code_challenge?: string;
  code_challenge_method?: string;
}

@ApiTags('Granting access')
@Controller(':network/oauth')
export class OAuthController {
  constructor(private readonly database: DataSource) {}

  @Get('consent')
  @ApiOperation({ summary: 'The page on which a person grants or declines access' })
  @Header('content-type', 'text/html; charset=utf-8')
  consent(@Param('network') name: string, @Query() query: ConsentQuery): string {
    const network = networkOf(name);
    this.checkRequest(query);
    return consentPage(network, query, '');
  }

  @Post('consent')
  @HttpCode(200)
  @ApiOperation({ summary: 'The answer given on the consent page' })
  async answer(
    @Param('network') name: string,
    @Query() query: ConsentQuery,
    @Body() form: { name?: string; password?: string; answer?: string },
    @Res() response: Response,
  ): Promise<void> {
    const network = networkOf(name);
    this.checkRequest(query);
    const back = new URL(query.redirect_uri!);
    back.searchParams.set('state', query.state!);
    if (form.answer === 'decline') {
      back.searchParams.set('error', 'access_denied');
      return response.redirect(303, back.href);
    }
    const login = await this.database.getRepository(Login).findOneBy({ network, name: String(form.name ?? '').toLowerCase() });
    if (!login || !passwordFits(String(form.password ?? ''), login.passwordHash)) {
      response
        .status(200)
        .type('html')
        .send(consentPage(network, query, 'That name and password do not belong together.'));
      return;
    }
    const code = newSecret();
    await this.database.getRepository(Grant).insert({
      id: newId(),
      network,
      loginId: login.id,
      codeHash: digest(code),
      codeChallenge: query.code_challenge!,
      redirectUri: query.redirect_uri!,
      accessHash: null,
      refreshHash: null,
      expiresAt: now() + CODE_LIVES_MS,
    });
    back.searchParams.set('code', code);
    response.redirect(303, back.href);
  }

  @Post('token')
  @HttpCode(200)
  @ApiOperation({ summary: 'Exchanges a code, or a refresh token, for an access token' })
  async token(@Param('network') name: string, @Body() form: Record<string, string>, @Res() response: Response): Promise<void> {
    const network = networkOf(name);
    const fail = (error: string, text: string) => void response.status(400).json({ error, error_description: text });
    if (form.client_id !== CLIENT_ID) return fail('invalid_client', 'This client is not known.');
    const grants = this.database.getRepository(Grant);
    let grant: Grant | null = null;
    if (form.grant_type === 'authorization_code') {
      grant = await grants.findOneBy({ network, codeHash: digest(form.code ?? '') });
      const proof = createHash('sha256')
        .update(form.code_verifier ?? '')
        .digest('base64url');
      if (!grant || grant.expiresAt < now()) return fail('invalid_grant', 'The code is not good, or too old.');
      if (grant.codeChallenge !== proof || grant.redirectUri !== form.redirect_uri) {
        return fail('invalid_grant', 'The code was asked for by somebody else.');
      }
    } else if (form.grant_type === 'refresh_token') {
      grant = await grants.findOneBy({ network, refreshHash: digest(form.refresh_token ?? '') });
      if (!grant) return fail('invalid_grant', 'Access was withdrawn.');
      if (now() > grant.expiresAt + REFRESH_LIVES_MS) return fail('invalid_grant', 'Access has run out.');
    } else return fail('unsupported_grant_type', 'Only codes and refresh tokens are taken.');
    const reply: TokenReply = { access_token: newSecret(), refresh_token: newSecret(), token_type: 'Bearer', expires_in: ACCESS_LIVES_S };
    Object.assign(grant, {
      codeHash: null,
      accessHash: digest(reply.access_token),
      refreshHash: digest(reply.refresh_token),
      expiresAt: now() + ACCESS_LIVES_S * 1000,
    });
    await grants.save(grant);
    response.setHeader('cache-control', 'no-store');
    response.json(reply);
  }

  @Post('revoke')
  @HttpCode(200)
  @ApiOperation({ summary: 'Gives access back, by either token (RFC 7009)' })
  async revoke(@Param('network') name: string, @Body() form: Record<string, string>): Promise<void> {
    const network = networkOf(name);
    const hash = digest(form.token ?? '');
    const grants = this.database.getRepository(Grant);
    await grants.delete({ network, accessHash: hash });
    await grants.delete({ network, refreshHash: hash });
  }

  private checkRequest(query: ConsentQuery): void {
    if (query.client_id !== CLIENT_ID) throw new Refusal(400, 'unknown-client', 'This application is not known here.');
    if (query.response_type !== 'code' || query.code_challenge_method !== 'S256' || !query.code_challenge || !query.state) {
      throw new Refusal(400, 'bad-request', 'This request for access is not complete.');
    }
    const allowed = process.env.LANTERN_REDIRECT_HOST;
    const host = URL.canParse(query.redirect_uri ?? '') ? new URL(query.redirect_uri!).hostname : '';
    if (!['localhost', '127.0.0.1', '[::1]'].includes(host) && host !== allowed) {
      throw new Refusal(400, 'bad-redirect', 'The address to return to is not registered.');
    }
  }
}

/** Finds whom an access token speaks for. */
export async function loginOf(database: DataSource, network: Network, authorization: string | undefined): Promise<string> {
  const token = /^Bearer (\S+)$/.exec(authorization ?? '')?.[1];
  const grant = token ? await database.getRepository(Grant).findOneBy({ network, accessHash: digest(token) }) : null;
  if (!grant || grant.expiresAt < now()) throw new Refusal(401, 'sign-in', 'Access has run out or was withdrawn.');
  return grant.loginId;
}

export async function accountsOfLogin(database: DataSource, loginId: string): Promise<Account[]> {
  return database.getRepository(Account).find({ where: { loginId }, order: { name: 'ASC' } });
}

export function networkOf(name: string | undefined): Network {
  const network = NETWORKS.find((each) => each === name);
  if (!network) throw new Refusal(404, 'unknown-network', 'There is no such network.');
  return network;
}

function consentPage(network: Network, query: ConsentQuery, trouble: string): string {
  const look = NETWORK_LOOKS[network];
  const search = new URLSearchParams(query as Record<string, string>).toString();
  return networkPage(
    network,
    'Grant access',
    `<section class="narrow">
      <h1>Let Noble Lantern act for you on ${look.name}?</h1>
      <p>It would be able to:</p>
      <ul><li>see the accounts that you may speak for</li><li>create, change, start, end and cancel live events there</li></ul>
      <p>It would not see your password or your messages.</p>
      <form method="post" action="?${escapeHtml(search)}">
        ${trouble ? `<p class="trouble" role="alert">${escapeHtml(trouble)}</p>` : ''}
        <label>Your name on ${look.name}<input name="name" autocomplete="username" required></label>
        <label>Password<input name="password" type="password" autocomplete="current-password" required></label>
        <p class="actions"><button name="answer" value="allow">Allow</button>
        <button class="quiet" name="answer" value="decline" formnovalidate>Decline</button></p>
      </form>
      <p class="small">${look.name} is a made-up network. In the demo: name <b>maren</b>, password <b>lantern-light</b>.</p>
    </section>`,
  );
}
