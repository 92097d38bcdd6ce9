import { BatchEntity, BatchPartEntity, PhotoEntity, RecipeEntity, UseRuleEntity } from './entities/bench.ts';
import {
  CareEventEntity,
  ClockEntity,
  EventTouchEntity,
  PlannedActEntity,
  SimulatedTruthEntity,
} from './entities/log.ts';
import { InstrumentEntity, SentReadingEntity, TrialEntity, TrialPotEntity, TurnMarkEntity } from './entities/book.ts';
import { ClayBatchEntity } from './entities/clay.ts';
import {
  AdviceAnswerEntity,
  PenAnswerEntity,
  PlaceEntity,
  PotEntity,
  PotRegimenEntity,
  RegimenEntity,
  TreatmentEntity,
} from './entities/pots.ts';
import {
  AwayEntity,
  MadeDayEntity,
  PotPlanEntity,
  SeasonEntity,
  WaterPartEntity,
  WorkTimeEntity,
} from './entities/season.ts';
import { BottleEntity, MeterEntity, ProductEntity, ToolEntity, VesselEntity, WaterEntity } from './entities/shelf.ts';
import { ActRequestEntity, SettingEntity } from './entities/shell.ts';

export type * from './entities/bench.ts';
export type * from './entities/book.ts';
export type * from './entities/clay.ts';
export type * from './entities/log.ts';
export type * from './entities/pots.ts';
export type * from './entities/season.ts';
export type * from './entities/shelf.ts';
export type * from './entities/shell.ts';

/** All tables (EntitySchema, no decorators), in the order in which they can be filled: nothing refers to a later one. */
export const ENTITIES = [
  SettingEntity,
  ActRequestEntity,
  PlaceEntity,
  WaterEntity,
  MeterEntity,
  ToolEntity,
  VesselEntity,
  ProductEntity,
  BottleEntity,
  ClayBatchEntity,
  RegimenEntity,
  PotEntity,
  PotRegimenEntity,
  TreatmentEntity,
  TurnMarkEntity,
  TrialEntity,
  TrialPotEntity,
  InstrumentEntity,
  SentReadingEntity,
  AdviceAnswerEntity,
  PenAnswerEntity,
  RecipeEntity,
  UseRuleEntity,
  BatchEntity,
  BatchPartEntity,
  CareEventEntity,
  EventTouchEntity,
  PhotoEntity,
  PlannedActEntity,
  ClockEntity,
  SimulatedTruthEntity,
  SeasonEntity,
  PotPlanEntity,
  AwayEntity,
  MadeDayEntity,
  WorkTimeEntity,
  WaterPartEntity,
];
