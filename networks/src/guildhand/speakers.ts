// Who speaks at a talk: invited by whoever announces it, and on its page only once they have said yes there themselves.
import { Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { SpeakerRow } from '../kit/entities';
import { Refusal } from '../kit/refusal';
import { newId, newSecret } from '../kit/secrets';

export const MOST_SPEAKERS = 12;
const NAME_MOST = 60;
const ABOUT_MOST = 100;

export interface SpeakerAsked {
  reference: string;
  name: string;
  about: string;
}

@Injectable()
export class Speakers {
  constructor(private readonly database: DataSource) {}

  private get rows() {
    return this.database.getRepository(SpeakerRow);
  }

  of(eventId: string): Promise<SpeakerRow[]> {
    return this.rows.find({ where: { eventId }, order: { place: 'ASC' } });
  }

  /** From now on these, in this order. Whoever was invited already keeps what they answered, as long as they go by the same name. */
  async set(eventId: string, asked: readonly SpeakerAsked[]): Promise<SpeakerRow[]> {
    if (asked.length > MOST_SPEAKERS) throw new Refusal(422, 'speakers', `A talk has ${MOST_SPEAKERS} speakers at most.`);
    if (new Set(asked.map(({ reference }) => reference)).size < asked.length) throw new Refusal(422, 'speakers', 'Two speakers have one reference.');
    for (const { name, about } of asked) {
      if (!name.trim()) throw new Refusal(422, 'speaker-name', 'A speaker needs a name.');
      if ([...name].length > NAME_MOST) throw new Refusal(422, 'speaker-name', `Names of speakers have ${NAME_MOST} characters at most.`);
      if ([...about].length > ABOUT_MOST) throw new Refusal(422, 'speaker-about', `What a speaker is has ${ABOUT_MOST} characters at most.`);
    }
    const known = await this.of(eventId);
    await this.rows.remove(known.filter(({ reference }) => !asked.some((each) => each.reference === reference)));
    for (const [place, each] of asked.entries()) {
      const before = known.find(({ reference }) => reference === each.reference);
      const answer = before && before.name === each.name ? before.answer : 'invited';
      const made = before ?? Object.assign(new SpeakerRow(), { id: newId(), eventId, secret: newSecret() });
      await this.rows.save(Object.assign(made, each, { place, answer }));
    }
    return this.of(eventId);
  }

  async bySecret(secret: string): Promise<SpeakerRow> {
    const speaker = await this.rows.findOneBy({ secret });
    if (!speaker) throw new Refusal(404, 'no-invitation', 'There is no such invitation.');
    return speaker;
  }

  async answer(secret: string, answer: 'accepted' | 'declined'): Promise<SpeakerRow> {
    return this.rows.save(Object.assign(await this.bySecret(secret), { answer }));
  }
}
