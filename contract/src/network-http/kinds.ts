// The kinds of fields that replies of networks consist of. A reply that breaks one of these rules is none: whoever reads
// it further would fall over it, or show what nobody may be shown.
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsISO8601,
  IsObject,
  IsString,
  IsUrl,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
  ValidateNested,
} from 'class-validator';

const MOST_IN_A_LIST = 2_000;

function all(...decorators: PropertyDecorator[]): PropertyDecorator {
  return (target, name) => decorators.forEach((decorate) => decorate(target, name));
}

/** What is asked for by it afterwards, so nothing that could lead to another address. */
export const IsIdentifier = () => all(IsString(), Length(1, 200), Matches(/^[\w.~:@-]+$/), Matches(/[^.]/));
export const IsWords = (most = 50_000) => all(IsString(), MaxLength(most));
/** A whole number from 0. */
export const IsCount = () => all(IsInt(), Min(0), Max(Number.MAX_SAFE_INTEGER));
/** An instant as text, ISO 8601. */
export const IsMoment = () => all(IsISO8601({ strict: true }), MaxLength(40));
/** For browsers: no other scheme may come in, since it ends up in a link. */
export const IsWebAddress = () =>
  all(IsString(), MaxLength(2_000), IsUrl({ protocols: ['http', 'https'], require_protocol: true, require_tld: false, disallow_auth: true }));
export const IsIngestAddress = () => all(IsString(), Length(1, 500), Matches(/^rtmps?:\/\/[^\s/]+(\/\S*)?$/));
/** A secret that is shown at an ingest. */
export const IsSecret = () => all(IsString(), Length(1, 500), Matches(/^[\x21-\x7e]+$/));
export const IsOneOf = (values: readonly (string | number)[]) => all(IsIn(values));
export const IsYesOrNo = () => all(IsBoolean());
/** Null is said, not left out: the field is there, and is null or right. */
export const OrNull = () => all(ValidateIf((_, value) => value !== null));
/** Another object, right within. */
export const IsOf = (type: () => new () => object) => all(Type(type), IsObject(), ValidateNested());
export const IsListOf = (type: () => new () => object) =>
  all(Type(type), IsArray(), ArrayMaxSize(MOST_IN_A_LIST), IsObject({ each: true }), ValidateNested({ each: true }));
