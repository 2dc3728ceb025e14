// Identifiers in addresses. One that is not even one is answered like one that is not known.
import { Param, ParseUUIDPipe } from '@nestjs/common';
import { PlainError, unknownShow } from '../foundation/errors';

export const ShowId = () => Param('id', new ParseUUIDPipe({ exceptionFactory: unknownShow }));

export const UnknownId = (name: string, words: string) => Param(name, new ParseUUIDPipe({ exceptionFactory: () => new PlainError(404, words) }));

export const AiringId = () => UnknownId('airingId', 'The show does not go out on this channel.');
