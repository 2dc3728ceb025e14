// How often a stand-in was asked to change anything: so that somebody can prove that they asked for nothing.
import { Injectable } from '@nestjs/common';

@Injectable()
export class Visits {
  changes = 0;
}
