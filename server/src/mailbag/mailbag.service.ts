// All that is written beneath a show, wherever: read as one list, answered where it was written, hidden there, and gathered as questions.
import { HOUSE_PAGE, type MessageSource, type MessagesView, type MessageView, type SaidView, type Silence, type WritingOffer } from '@lantern/contract';
import {
  messageRules,
  nameChoices,
  tooLongBy,
  wordedAnswer,
  WRITING,
  writingOffered,
  type HoldingRules,
  type MessagePlace,
  type NetworkId,
  type TalkRules,
  type Writing,
} from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { ChannelAccessService, channelInFull, placeName, wordsOfNetworkError } from '../channels/access.service';
import { ChannelRows } from '../channels/channel-rows';
import { RuleBookService } from '../channels/rule-book.service';
import type { Channel } from '../channels/channel.entities';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { oneLine } from '../foundation/one-line';
import { AuditService } from '../people/audit.service';
import type { Person } from '../people/people.entities';
import { QuestionsService } from '../questions/questions.service';
import { AiringRows } from '../shows/airing-rows';
import { AiringsService } from '../shows/airings.service';
import { ShowsService } from '../shows/shows.service';
import { RemovalService } from '../shows/removal.service';
import type { Airing, Show } from '../shows/show.entities';
import { CollectorsService } from './collectors.service';
import { HouseTalkService } from './house-talk.service';
import type { Message } from './message.entities';
import { MessageRows } from './message-rows';
import { saySilence, SILENCE_WORDS, silentFor } from './silences';

const gone = () => new PlainError(404, 'This message is not there any more.');
const changedMeanwhile = () => new PlainError(409, 'Somebody else has changed this meanwhile. Look at it again.');

interface Place {
  airing: Airing;
  channel: Channel;
}

@Injectable()
export class MailbagService {
  constructor(
    private readonly rows: MessageRows,
    private readonly collectors: CollectorsService,
    private readonly talk: HouseTalkService,
    private readonly airings: AiringRows,
    private readonly channels: ChannelRows,
    private readonly access: ChannelAccessService,
    private readonly ruleBook: RuleBookService,
    private readonly airingsService: AiringsService,
    private readonly shows: ShowsService,
    private readonly questions: QuestionsService,
    private readonly audit: AuditService,
    private readonly clock: Clock,
    removal: RemovalService,
  ) {
    for (const table of ['messages', 'message_cursors', 'house_talk', 'house_writers', 'asked_too']) removal.takeAlong({ table, where: 'showId = ?' });
  }

  async list(show: Show, since: number): Promise<MessagesView> {
    const { rows, revision, more } = await this.rows.since(show.id, since);
    const idOf = await this.rows.idsOf(rows);
    const sources: MessageSource[] = (await this.places(show)).map(({ airing, channel }) => ({
      ...{
        channelId: channel.id,
        name: channelInFull(channel),
        network: channel.network as NetworkId,
        trouble: this.collectors.troubleOf(airing.id),
        talk: null,
      },
      ...{ writers: this.airingsService.chosen(airing, channel).messages, offers: this.offers(airing, channel) },
    }));
    if (this.talk.isThere(show)) {
      const here = { channelId: HOUSE_PAGE, name: 'House page', network: HOUSE_PAGE, trouble: '', writers: null } as const;
      sources.push({ ...here, offers: [], talk: await this.talk.rulesOf(show.id) });
    }
    const onPage = await this.talk.silences(rows);
    const networkOf = new Map<string, MessagePlace>(sources.map(({ channelId, network }) => [channelId, network]));
    const now = this.clock.now();
    const silenceOf = (row: Message): Silence | null => {
      if (row.channelId === HOUSE_PAGE) return onPage(row);
      const network = networkOf.get(row.channelId);
      if (!network || row.standing === 'own' || !messageRules(network).silences.length) return null;
      return saySilence(row.silentUntil, now);
    };
    return {
      rules: await this.rows.rulesOf(show.stationId),
      prepared: await this.rows.preparedOf(show.stationId),
      sources,
      revision,
      more,
      messages: rows.map((row) => viewOf(row, idOf(row), silenceOf(row))).sort((a, b) => a.place - b.place),
    };
  }

  /** Answers where it was written, as the channel. Answered is what the network has read back. */
  async answer(by: Person, show: Show, id: string, words: string, key: string): Promise<void> {
    const here = await this.onHousePage(show, id);
    if (here) {
      if (here.state !== 'shown') throw new PlainError(409, 'Show this message first: nobody on the page can see what it is that is answered.');
      await this.talk.say(show, words, key, here);
      await this.rows.change(here, { answeredAt: this.clock.now() });
      await this.audit.note(by, 'answered', `${here.writer} on the house page`);
      return;
    }
    const { message, airing, channel } = await this.placeOf(show, id);
    if (message.state === 'removed') throw new PlainError(409, 'This message is gone there: it cannot be answered any more.');
    const network = channel.network as NetworkId;
    const worded = wordedAnswer(network, message.writer, words);
    await this.write({ airing, channel }, worded, messageRules(network).threads ? message.remoteId : null, key);
    await this.rows.change((await this.rows.byId(show.id, id)) ?? message, { answeredAt: this.clock.now() });
    await this.audit.note(by, 'answered', `${message.writer} on ${channelInFull(channel)}`);
  }

  /** Says the same on every channel, with a result each. */
  async sayEverywhere(by: Person, show: Show, words: string, key: string): Promise<SaidView> {
    const places = await this.places(show);
    const onPage = await this.talk.takes(show);
    if (!places.length && !onPage) throw new PlainError(409, 'This show stands nowhere where messages are taken at this moment.');
    const writings = places.map((place) => ({
      named: { channelId: place.channel.id, name: channelInFull(place.channel) },
      write: () => this.write(place, words.trim(), null, key),
    }));
    if (onPage) writings.push({ named: { channelId: HOUSE_PAGE, name: 'House page' }, write: () => this.talk.say(show, words, key, null) });
    const said = await Promise.all(
      writings.map(async ({ named, write }) => {
        try {
          await write();
          return { ...named, refusal: '' };
        } catch (error) {
          if (!(error instanceof PlainError)) throw error;
          return { ...named, refusal: error.words };
        }
      }),
    );
    const there = said.filter(({ refusal }) => !refusal);
    if (there.length) await this.audit.note(by, 'wrote', `to all on ${there.map(({ name }) => name).join(', ')}`);
    return { said };
  }

  /** Hides a message there, or shows it again. Hidden is what the network has confirmed. */
  async setHidden(by: Person, show: Show, id: string, hidden: boolean): Promise<void> {
    const here = await this.onHousePage(show, id);
    if (here) {
      if ((here.state !== 'shown') === hidden) return;
      if (!(await this.rows.change(here, { state: hidden ? 'hidden' : 'shown', held: null }))) throw changedMeanwhile();
      await this.audit.note(by, hidden ? 'hid' : 'showed', `what ${here.writer} wrote on the house page`);
      return;
    }
    const { message, airing, channel } = await this.placeOf(show, id);
    const forGood = messageRules(channel.network as NetworkId).hiding === 'for good';
    if (message.state === 'removed' && !hidden) throw new PlainError(409, `What was taken away on ${placeName(channel)} is gone for good.`);
    if ((message.state !== 'shown') === hidden) {
      // Looked at and left as it is: nobody's rule holds it back any more.
      if (!hidden && message.held !== null) await this.rows.change(message, { held: null });
      return;
    }
    await this.asking({ airing, channel }, ({ messages }, access) => messages.setHidden(access, message.remoteId, hidden));
    if (!(await this.rows.change(message, { state: !hidden ? 'shown' : forGood ? 'removed' : 'hidden', held: null }))) throw changedMeanwhile();
    await this.audit.note(by, hidden ? 'hid' : 'showed again', `what ${message.writer} wrote on ${channelInFull(channel)}`);
  }

  /** Gathers a message as a question. A second press finds the same one. */
  async gather(show: Show, id: string): Promise<void> {
    const here = await this.onHousePage(show, id);
    const { message, channel } = here ? { message: here, channel: null } : await this.placeOf(show, id);
    if (message.questionId !== null) return;
    const questionId = await this.questions.gather(show, {
      messageId: message.id,
      name: message.writer,
      words: message.words,
      // Whoever wrote it here follows it by the key of that message, and can be offered a place.
      ...(channel ? { channelId: channel.id, keyHash: null } : { channelId: null, keyHash: message.remoteId }),
      at: message.writtenAt,
    });
    await this.rows.change(message, { questionId });
  }

  /** What is offered for answers at this station, from now on. */
  async setPrepared(by: Person, show: Show, answers: readonly string[]): Promise<void> {
    await this.rows.setPrepared(by.stationId, [...new Set(answers.map(oneLine).filter(Boolean))]);
    this.rows.changed(show.id);
  }

  /** How the house page takes messages from now on. */
  async setTalk(by: Person, show: Show, rules: TalkRules): Promise<void> {
    await this.talk.setRules(by, show, rules);
  }

  /** Has whoever wrote a message on the house page write nothing more, for a time or in this show; or lets them. */
  async silence(by: Person, show: Show, id: string, silence: Silence): Promise<void> {
    const here = await this.onHousePage(show, id);
    if (here) return this.talk.silence(by, show, here, silence);
    const { message, airing, channel } = await this.placeOf(show, id);
    const network = channel.network as NetworkId;
    const { silences } = messageRules(network);
    if (message.standing === 'own' || !(silences.length && (silence === 'no' || silences.includes(silence))))
      throw new PlainError(409, `${placeName(channel)} knows no such way to keep somebody from writing. Hide what they write.`);
    const now = await this.asking({ airing, channel }, ({ messages }, access) => messages.silence!(access, message.remoteId, silence));
    if (now !== silence) throw new PlainError(502, `${placeName(channel)} took it, and says otherwise afterwards. Look at its page there.`);
    await this.rows.change(message, { silentUntil: silentFor(silence, this.clock.now()) });
    await this.audit.note(by, SILENCE_WORDS[silence], `${message.writer} on ${channelInFull(channel)}`);
    // Whoever is shut out for what they wrote has it taken from sight too, where that can be undone.
    if (silence === 'this show' && message.state === 'shown' && messageRules(network).hiding !== 'for good') await this.setHidden(by, show, id, true);
  }

  /** Changes who may write on a channel, how often and what: there, as it is read back, and on the sheet, so that neither says otherwise than the other. */
  async setWriting(by: Person, show: Show, channelId: string, writing: Writing): Promise<void> {
    const place = (await this.places(show)).find(({ channel }) => channel.id === channelId);
    if (!place) throw new PlainError(404, 'This show stands on no such channel.');
    const { airing, channel } = place;
    const offers = this.offers(airing, channel);
    const wanted = WRITING.filter((name) => writing[name] !== undefined);
    const offered = wanted.every((name) => offers.some((offer) => offer.name === name && offer.from.includes(writing[name]!)));
    if (!wanted.length || !offered) throw new PlainError(409, `${placeName(channel)} leaves no such choice of who may write.`);
    const now = await this.asking(place, ({ messages }, access) => messages.setWriting!(access, airing.remoteId!, writing));
    if (wanted.some((name) => now[name] !== writing[name]))
      throw new PlainError(502, `${placeName(channel)} took it, and says otherwise afterwards. Look at its page there.`);
    // Looked at anew: while the network took its time, somebody may have typed another title.
    const sheet = await this.shows.whole(show.stationId, show.id);
    const typed = sheet.airings.find((each) => each.airing.id === airing.id)?.airing ?? airing;
    const asTold = typed.toldChoices === this.airingsService.choicesKey(typed, channel);
    const { title, description } = typed;
    const choices = { ...typed.choices, ...Object.fromEntries(wanted.map((name) => [name, writing[name]])) };
    await this.shows.keep(by, show.id, { base: sheet.show.version, changes: { variants: [{ channelId, title, description, choices }] } });
    if (asTold) await this.airings.change(airing.id, { toldChoices: this.airingsService.choicesKey({ ...typed, choices }, channel) });
    await this.audit.note(by, 'set', `who may write on ${channelInFull(channel)}: ${nameChoices(writing).join(', ')}`);
    this.rows.changed(show.id);
  }

  /** What is held back at this station, from now on. */
  async setRules(by: Person, show: Show, rules: HoldingRules): Promise<void> {
    const words = [...new Set(rules.words.map((word) => word.trim()).filter(Boolean))];
    await this.rows.setRules(by.stationId, { words, links: rules.links });
    await this.audit.note(by, 'set', `what is held back of messages: ${words.length} words${rules.links ? ', and links' : ''}`);
    this.rows.changed(show.id);
  }

  /** What its network lets one choose of writing there, where it leaves a choice at all. */
  private offers(airing: Airing, channel: Channel): WritingOffer[] {
    if (!this.access.connectorOf(channel)?.messages.setWriting) return [];
    const offered = writingOffered(this.ruleBook.rules(channel));
    const chosen = this.airingsService.chosen(airing, channel);
    return WRITING.flatMap((name) => (offered[name].length > 1 && chosen[name] !== null ? [{ name, now: chosen[name], from: offered[name] }] : []));
  }

  private async write(place: Place, words: string, answers: string | null, key: string): Promise<void> {
    const { airing, channel } = place;
    const over = tooLongBy(channel.network as NetworkId, words);
    if (over)
      throw new PlainError(400, `${placeName(channel)} takes ${messageRules(channel.network as NetworkId).longest} characters: this is ${over} too long.`);
    const written = await this.asking(place, ({ messages }, access) => messages.write(access, airing.remoteId!, words, answers, key));
    await this.rows.keepOwn(airing, written);
  }

  private async asking<T>(
    { channel }: Place,
    what: (connector: NonNullable<ReturnType<ChannelAccessService['connectorOf']>>, access: ReturnType<ChannelAccessService['of']>) => Promise<T>,
  ): Promise<T> {
    const connector = this.access.connectorOf(channel)!;
    try {
      return await what(connector, this.access.of(channel));
    } catch (error) {
      throw new PlainError(502, wordsOfNetworkError(error, channel, connector));
    }
  }

  private async places(show: Show): Promise<Place[]> {
    const there = (await this.airings.ofShow(show.id)).filter(({ placing, remoteId }) => placing === 'placed' && remoteId !== null);
    const channels = await this.channels.some(there.map(({ channelId }) => channelId));
    return there.flatMap((airing) => {
      const channel = channels.find(({ id }) => id === airing.channelId);
      return channel && this.access.connectorOf(channel) ? [{ airing, channel }] : [];
    });
  }

  /** A message that was written on the house page; null: it came from a channel. */
  private async onHousePage(show: Show, id: string): Promise<Message | null> {
    const message = await this.rows.byId(show.id, id);
    if (!message) throw gone();
    return message.channelId === HOUSE_PAGE ? message : null;
  }

  private async placeOf(show: Show, id: string): Promise<Place & { message: Message }> {
    const message = await this.rows.byId(show.id, id);
    if (!message) throw gone();
    const airing = await this.airings.byId(message.airingId);
    const [channel] = await this.channels.some([message.channelId]);
    if (!airing || airing.remoteId === null || !channel || !this.access.connectorOf(channel))
      throw new PlainError(409, 'The channel of this message is not linked any more.');
    return { message, airing, channel };
  }
}

const viewOf = (
  { id, place, channelId, writer, standing, words, writtenAt, state, answeredAt, questionId, held, askedToo, behindMs }: Message,
  answers: string | null,
  silence: Silence | null,
): MessageView => ({
  ...{ id, place, channelId, writer, standing, words, answers, writtenAt, state, answeredAt, gathered: questionId !== null, held, askedToo, behindMs, silence },
});
