// Puts the air process together: carrier, stage gateway, the wire to the planning server, and a little HTTP.
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { guardConnections } from '../doors/connections';
import { Clock } from '../foundation/clock';
import type { Settings } from '../foundation/settings';
import { Carrier } from './carrier';
import { Desk } from './desk';
import { GreenRooms } from './green-rooms';
import { HousePicture } from './house-picture';
import { OutsideLines } from './outside-lines';
import { StageGateway } from './stage-gateway';
import { StandStill } from './stand-still';

export interface Air {
  port: number;
  /** Where outside encoders send. */
  ingestPort: number;
  carrier: Carrier;
  /** How many connections of browsers are open. */
  connections(): Promise<number>;
  close(): Promise<void>;
}

/** Listens for stages and for the planning server. Throws where a port or a socket is taken. */
export async function openAir(settings: Settings, faults: () => number = () => 0): Promise<Air> {
  const desk = new Desk(settings.airSocket);
  const outside = new OutsideLines(settings, desk);
  const carrier = new Carrier(settings, desk, new Clock(), outside);
  const rooms = new GreenRooms(carrier, desk, settings);
  const gateway = new StageGateway(carrier, desk, settings, rooms);
  const picture = new HousePicture(carrier);
  const standing = new StandStill();
  const server: Server = createServer((request, response) => {
    if (picture.answer(request, response)) return;
    const ready = request.url === '/health/live' || request.url === '/health/ready';
    response.writeHead(ready ? 200 : 404, { 'content-type': 'application/json', 'cache-control': 'no-store' });
    response.end(
      ready ? JSON.stringify({ ok: true, faults: faults(), carried: carrier.carried.length, planning: desk.connected, standStillMs: standing.worstMs }) : '{}',
    );
  });
  guardConnections(server, settings.proxies, settings.connectionsPerAddress);
  server.on('upgrade', (request, socket, head) => (rooms.takes(request) ? rooms : gateway).upgrade(request, socket, head));
  await new Promise<void>((done, failed) => server.once('error', failed).listen(settings.airPort, settings.host, done));
  await outside.listen();
  await desk.listen(
    (name, body) => carrier.obey(name, body),
    () => {
      gateway.deskCame();
      rooms.deskCame();
    },
  );
  return {
    port: (server.address() as AddressInfo).port,
    ingestPort: outside.port,
    carrier,
    connections: () => new Promise((done, failed) => server.getConnections((error, count) => (error ? failed(error) : done(count)))),
    close: async () => {
      standing.stop();
      outside.close();
      gateway.close();
      rooms.close();
      server.close();
      server.closeAllConnections();
      await carrier.close();
      desk.close();
    },
  };
}
