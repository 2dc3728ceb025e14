// The rows of stations: who asks for which by what, and the few things that others may change of one.
import { Injectable } from '@nestjs/common';
import { DataSource, type Repository } from 'typeorm';
import { changeRow } from '../foundation/together';
import { Station } from './people.entities';

@Injectable()
export class Stations {
  constructor(private readonly database: DataSource) {}

  private get rows(): Repository<Station> {
    return this.database.getRepository(Station);
  }

  byId(id: string): Promise<Station | null> {
    return this.rows.findOneBy({ id });
  }

  mustBe(id: string): Promise<Station> {
    return this.rows.findOneByOrFail({ id });
  }

  bySlug(slug: string): Promise<Station | null> {
    return this.rows.findOneBy({ slug });
  }

  byFeed(feedHash: string): Promise<Station | null> {
    return this.rows.findOneBy({ feedHash });
  }

  async isThere(): Promise<boolean> {
    return (await this.rows.count()) > 0;
  }

  async change(id: string, columns: Partial<Pick<Station, 'zone' | 'cities' | 'milestoneTimes' | 'dateOrder' | 'feedHash' | 'supportersHash'>>): Promise<void> {
    await changeRow(this.database.manager, Station, { id }, columns);
  }
}
