// Who may do what, at every route that there is: each is public or asks for a right, and the guard goes by the one table.
import 'reflect-metadata';
import { METHOD_METADATA, PATH_METADATA } from '@nestjs/common/constants';
import { RequestMethod, type Type } from '@nestjs/common';
import { MetadataScanner, ModulesContainer, Reflector } from '@nestjs/core';
import { may, RIGHTS, ROLES, type RightName, type Role } from '@lantern/core';
import { TestStation } from '../test/station';
import { askedOf } from './signed-in';

interface Route {
  method: string;
  path: string;
  asked: 'nothing' | RightName | null;
}
let station: TestStation;
let routes: Route[] = [];
const cookies: Partial<Record<Role, string>> = {};

beforeAll(async () => {
  station = await TestStation.open();
  cookies.owner = station.cookie;
  for (const role of ['producer', 'moderator'] as const) cookies[role] = await station.person(role);
  routes = allRoutes();
});
afterAll(() => station.close());

function allRoutes(): Route[] {
  const found: Route[] = [];
  const reflector = station.app.get(Reflector);
  for (const module of station.app.get(ModulesContainer).values()) {
    for (const { metatype } of module.controllers.values()) {
      const controller = metatype as Type;
      const base = [Reflect.getMetadata(PATH_METADATA, controller) as string | string[]].flat()[0] ?? '';
      for (const name of new MetadataScanner().getAllMethodNames(controller.prototype as object)) {
        const handler = (controller.prototype as Record<string, () => unknown>)[name]!;
        const method = Reflect.getMetadata(METHOD_METADATA, handler) as RequestMethod | undefined;
        if (method === undefined) continue;
        for (const path of [Reflect.getMetadata(PATH_METADATA, handler) as string | string[]].flat()) {
          const whole = `/${base}/${path}`.replace(/\/+/g, '/').replace(/(.)\/$/, '$1');
          found.push({ method: RequestMethod[method]!, path: whole, asked: askedOf(reflector, handler, controller) });
        }
      }
    }
  }
  return found;
}
const nameOf = ({ method, path }: Route) => `${method} ${path}`;
const UNKNOWN = '00000000-0000-4000-8000-000000000000';
const call = ({ method, path }: Route, cookie: string) => {
  const real = path.replace(/:[a-zA-Z]+/g, UNKNOWN).replace(/\*[a-zA-Z]*/g, 'x');
  return station.as(station.http()[method.toLowerCase() as 'get'](real), cookie).send(method === 'GET' ? undefined : {});
};

test('there are routes, and each is public or asks for a right', () => {
  expect(routes.length).toBeGreaterThan(100);
  expect(routes.filter(({ asked }) => asked === null).map(nameOf)).toEqual([]);
});

test('what is public is what visitors, calendars, mail programs and people who are not signed in yet need, and nothing else', () => {
  const parts = new Set(
    routes
      .filter(({ asked }) => asked === 'nothing')
      .map(({ path }) =>
        path
          .split('/')
          .slice(0, path.startsWith('/api') ? 3 : 2)
          .join('/'),
      ),
  );
  expect([...parts].sort()).toEqual([
    '/api/door',
    '/api/house',
    '/api/join',
    '/api/password',
    '/api/session',
    '/api/set-up',
    '/at',
    '/calendar',
    '/embed',
    '/health',
    '/oembed',
    '/on',
    '/reminders',
    '/s',
  ]);
});

test('every route that asks for a right is closed to whoever is not signed in', async () => {
  const open: string[] = [];
  for (const route of routes.filter(({ asked }) => asked !== 'nothing')) {
    station.forgetTries();
    if ((await call(route, '')).status !== 401) open.push(nameOf(route));
  }
  expect(open).toEqual([]);
});

test('every route refuses the roles that the table leaves out, in its words, and no others', async () => {
  const wrong: string[] = [];
  for (const route of routes) {
    // Ending sessions would end the ones that this is asked with.
    if (route.asked === 'nothing' || route.asked === null || /sessions?$|changes$/.test(route.path)) continue;
    for (const role of ROLES) {
      station.forgetTries();
      const { status, body } = await call(route, cookies[role]!);
      const refused = status === 403 && (body as { words?: string }).words === RIGHTS[route.asked].refusal;
      if (refused === may(role, route.asked)) wrong.push(`${role}: ${nameOf(route)} ${status}`);
    }
  }
  expect(wrong).toEqual([]);
});
