// A station's scenes, for its people.
import { SceneChange, SceneDraft, ScenesInOrder, type SceneView } from '@lantern/contract';
import { Body, Controller, Delete, Get, HttpCode, Param, Post, Put } from '@nestjs/common';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ScenesService } from './scenes.service';

@Controller('api/scenes')
export class ScenesController {
  constructor(private readonly scenes: ScenesService) {}

  @May('look at the station')
  @Get()
  list(@SignedIn() person: Person): Promise<SceneView[]> {
    return this.scenes.list(person.stationId);
  }

  @May('change the library')
  @Post()
  add(@SignedIn() person: Person, @Body() draft: SceneDraft): Promise<SceneView> {
    return this.scenes.add(person.stationId, draft);
  }

  @May('change the library')
  @Put('in-order')
  @HttpCode(204)
  order(@SignedIn() person: Person, @Body() { ids }: ScenesInOrder): Promise<void> {
    return this.scenes.order(person.stationId, ids);
  }

  @May('change the library')
  @Put(':id')
  change(@SignedIn() person: Person, @Param('id') id: string, @Body() body: SceneChange): Promise<SceneView> {
    return this.scenes.change(person.stationId, id, body);
  }

  @May('change the library')
  @Delete(':id')
  @HttpCode(204)
  remove(@SignedIn() person: Person, @Param('id') id: string): Promise<void> {
    return this.scenes.remove(person.stationId, id);
  }
}
