// A field that is an object of its own: there, of its class, and right within.
import { Type } from 'class-transformer';
import { IsObject, ValidateNested } from 'class-validator';

/** Nested rules alone pass over a field that is null or missing, and whoever reads it then falls over it. */
export function IsPart(type: () => new () => object) {
  return (target: object, propertyName: string) => {
    Type(type)(target, propertyName);
    ValidateNested()(target, propertyName);
    IsObject({ message: 'Something is missing here. Reload the page and try again.' })(target, propertyName);
  };
}
