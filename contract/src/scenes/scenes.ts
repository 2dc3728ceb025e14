// A station's scenes, as they are typed and kept.
import { CARD_KINDS, MOST_ZOOM, SCENE_ID, SCENE_LAYOUTS, SEATS, type CardKind, type Scene, type SceneLayout, type Seat, type View } from '@lantern/core';
import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsNotEmpty,
  IsNumber,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
  ValidateNested,
} from 'class-validator';
import { Type } from 'class-transformer';
import { IsPart } from '../rules/part';

export const MOST_SCENES = 40;

export class ViewDraft implements View {
  @IsNumber({}, { message: 'Say how far the picture is enlarged.' })
  @Min(1, { message: 'A picture cannot be made smaller than its place.' })
  @Max(MOST_ZOOM, { message: `A picture is enlarged ${MOST_ZOOM} times at most.` })
  zoom!: number;

  /** The middle of what is taken, in parts of the picture's width and height. */
  @IsNumber({}, { message: 'Say which part of the picture is taken.' })
  @Min(0)
  @Max(1)
  x!: number;

  @IsNumber({}, { message: 'Say which part of the picture is taken.' })
  @Min(0)
  @Max(1)
  y!: number;
}

export class SceneSeatDraft {
  @IsIn(SEATS, { message: 'Choose who or what is seen from the list.' })
  seat!: Seat;

  @ValidateIf((_, value) => value !== null)
  @IsPart(() => ViewDraft)
  view: ViewDraft | null = null;
}

/** What a host chooses of a scene. */
export class SceneDraft implements Omit<Scene, 'id'> {
  @IsString()
  @IsNotEmpty({ message: 'Give the scene a name.' })
  @MaxLength(40, { message: 'Keep the name of a scene to 40 characters.' })
  name!: string;

  @IsIn(SCENE_LAYOUTS, { message: 'Choose one of the layouts.' })
  layout!: SceneLayout;

  @ValidateIf((_, value) => value !== null)
  @IsIn(CARD_KINDS, { message: 'Choose what the card says.' })
  card!: CardKind | null;

  @IsArray()
  @ArrayMaxSize(SEATS.length, { message: 'Everybody has one seat at most.' })
  @ArrayUnique(({ seat }: SceneSeatDraft) => seat, { message: 'Everybody has one seat at most.' })
  @ValidateNested({ each: true })
  @Type(() => SceneSeatDraft)
  seats!: readonly SceneSeatDraft[];

  @IsBoolean()
  straps!: boolean;

  @IsBoolean()
  bug!: boolean;

  @IsIn(['shut', 'open'], { message: 'Say whether microphones are open.' })
  microphones!: Scene['microphones'];

  @IsIn(['cut', 'dissolve'], { message: 'Say how the scene comes.' })
  comes!: Scene['comes'];

  @IsOptional()
  @IsBoolean()
  messages?: boolean;
}

/** A scene that a show has of its own, by the name that it has at its station. */
export class SceneInShow extends SceneDraft implements Scene {
  @Matches(SCENE_ID, { message: 'Choose one of the scenes of your station.' })
  id!: string;
}

/** A scene as it is to be: from the state in which it was looked at, and from no other. */
export class SceneChange extends SceneDraft {
  @IsInt()
  @Min(0)
  revision!: number;
}

/** The station's scenes in another order. */
export class ScenesInOrder {
  @IsArray()
  @ArrayMaxSize(MOST_SCENES)
  @IsString({ each: true })
  ids!: string[];
}

export interface SceneView extends Scene {
  /** Counts its changes. */
  revision: number;
}
