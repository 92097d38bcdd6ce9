import { Ground1764000000000 } from './1764000000000-ground.ts';
import { Everyday1764100000000 } from './1764100000000-everyday.ts';
import { Chemistry1764200000000 } from './1764200000000-chemistry.ts';
import { Clay1764300000000 } from './1764300000000-clay.ts';
import { Bench1764400000000 } from './1764400000000-bench.ts';
import { Photo1764500000000 } from './1764500000000-photo.ts';
import { Drift1764600000000 } from './1764600000000-drift.ts';
import { Schools1764700000000 } from './1764700000000-schools.ts';
import { Pens1764800000000 } from './1764800000000-pens.ts';
import { Access1764900000000 } from './1764900000000-access.ts';
import { AtHand1765000000000 } from './1765000000000-at-hand.ts';
import { NoPen1765100000000 } from './1765100000000-no-pen.ts';
import { Season1765200000000 } from './1765200000000-season.ts';
import { SeasonLife1765300000000 } from './1765300000000-season-life.ts';
import { Log1765400000000 } from './1765400000000-log.ts';
import { Book1765500000000 } from './1765500000000-book.ts';
import { TrialDays1765550000000 } from './1765550000000-trial-days.ts';
import { ClayTold1765600000000 } from './1765600000000-clay-told.ts';

/** Every step from the first version's tables to today's, in order. */
export const MIGRATIONS = [
  Ground1764000000000,
  Everyday1764100000000,
  Chemistry1764200000000,
  Clay1764300000000,
  Bench1764400000000,
  Photo1764500000000,
  Drift1764600000000,
  Schools1764700000000,
  Pens1764800000000,
  Access1764900000000,
  AtHand1765000000000,
  NoPen1765100000000,
  Season1765200000000,
  SeasonLife1765300000000,
  Log1765400000000,
  Book1765500000000,
  TrialDays1765550000000,
  ClayTold1765600000000,
];
export const KNOWN_MIGRATIONS: readonly string[] = MIGRATIONS.map((m) => new m().name);
