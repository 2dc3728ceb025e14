import { CalendarFile, type CalendarReading } from '@lantern/contract';
import { Body, Controller, Get, Header, HttpCode, Param, Post } from '@nestjs/common';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { May, Public, SignedIn } from '../people/signed-in';
import { AiringsService } from '../shows/airings.service';
import { StationService } from '../station/station.service';
import { CalendarService } from './calendar.service';

@Controller()
export class CalendarController {
  constructor(
    private readonly calendar: CalendarService,
    private readonly station: StationService,
    private readonly airings: AiringsService,
  ) {}

  @May('look at the station')
  @Get('api/calendar.ics')
  @Header('content-type', 'text/calendar; charset=utf-8')
  @Header('content-disposition', 'attachment; filename="almanac.ics"')
  async download(@SignedIn() person: Person): Promise<string> {
    return this.calendar.write(await this.airings.station(person.stationId));
  }

  /** For calendar programs, which cannot sign in: the address itself is the secret. */
  @Public()
  @Get('calendar/:file')
  @Header('content-type', 'text/calendar; charset=utf-8')
  @Header('cache-control', 'private, no-store')
  async feed(@Param('file') file: string): Promise<string> {
    const station = await this.station.byFeedSecret(file.replace(/\.ics$/, ''));
    if (!station) throw new PlainError(404, 'There is no calendar at this address. Its owner may have closed it.');
    return this.calendar.write(station);
  }

  @May('plan shows')
  @Post('api/calendar')
  @HttpCode(200)
  read(@SignedIn() person: Person, @Body() { text, take }: CalendarFile): Promise<CalendarReading> {
    return this.calendar.read(person, text, take);
  }
}
