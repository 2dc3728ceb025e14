// What somebody sees who is invited to speak at a talk: no sign-in, the address is theirs.
import { Body, Controller, Get, Header, HttpCode, Param, Post } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import { Events } from '../kit/events';
import { escapeHtml, networkPage } from '../kit/pages';
import { Refusal } from '../kit/refusal';
import { Speakers } from './speakers';

@ApiTags('Guildhand')
@Controller('guildhand/speaking/:secret')
export class SpeakingController {
  constructor(
    private readonly speakers: Speakers,
    private readonly events: Events,
  ) {}

  @Get()
  @ApiOperation({ summary: 'The invitation to speak' })
  @Header('content-type', 'text/html; charset=utf-8')
  async invitation(@Param('secret') secret: string): Promise<string> {
    const { name, about, answer, eventId } = await this.speakers.bySecret(secret);
    const event = await this.events.byId(eventId);
    const said = { invited: '', accepted: '<p><b>You are among its speakers.</b></p>', declined: '<p><b>You are not among its speakers.</b></p>' }[answer];
    return networkPage(
      'guildhand',
      'Will you speak?',
      `<section class="narrow"><h1>Will you speak at “${escapeHtml(event?.title ?? 'a talk')}”?</h1>
      <p>Its page would name you: <b>${escapeHtml(name)}</b>${about ? `, ${escapeHtml(about)}` : ''}.</p>${said}
      <form method="post" class="actions"><button name="answer" value="accepted">Yes, name me</button><button name="answer" value="declined">No</button></form></section>`,
    );
  }

  @Post()
  @HttpCode(200)
  @ApiOperation({ summary: 'The answer to an invitation to speak' })
  @Header('content-type', 'text/html; charset=utf-8')
  async answer(@Param('secret') secret: string, @Body() { answer }: { answer?: unknown }): Promise<string> {
    if (answer !== 'accepted' && answer !== 'declined') throw new Refusal(400, 'answer', 'Say yes or no.');
    await this.speakers.answer(secret, answer);
    return this.invitation(secret);
  }
}
