// Browsers in which somebody is signed in from now on: each gets a cookie of its own.
import { Inject, Injectable } from '@nestjs/common';
import type { Request, Response } from 'express';
import { SESSION_COOKIE } from '../foundation/session-cookie';
import { SETTINGS, type Settings } from '../foundation/settings';
import type { Person } from './people.entities';
import { PeopleService, SESSION_LIVES_MS } from './people.service';

@Injectable()
export class BrowserSessions {
  constructor(
    private readonly people: PeopleService,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  async open(person: Person, request: Request, response: Response): Promise<void> {
    const token = await this.people.openSession(person, sayBrowser(request.headers['user-agent']));
    const secure = this.settings.publicUrl.startsWith('https:');
    response.cookie(SESSION_COOKIE, token, { httpOnly: true, sameSite: 'lax', secure, maxAge: SESSION_LIVES_MS, path: '/' });
  }
}

/** "Firefox on Linux", from what a browser says of itself; people tell their browsers apart by no more. */
function sayBrowser(agent = ''): string {
  const name = /Edg\//.test(agent)
    ? 'Edge'
    : /Firefox\//.test(agent)
      ? 'Firefox'
      : /Chrom(e|ium)\//.test(agent)
        ? 'Chromium'
        : /Safari\//.test(agent)
          ? 'Safari'
          : 'A program';
  const system = (['Android', 'iPhone', 'iPad', 'Windows', 'Mac OS', 'Linux'] as const).find((each) => agent.includes(each));
  return system ? `${name} on ${system === 'Mac OS' ? 'macOS' : system}` : name;
}
