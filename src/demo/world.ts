import type { EntityManager } from 'typeorm';
import type { Random, SimPot, SimPotNature } from '../core/simulation/index.ts';
import type { LocalDate, Regimen } from '../core/regimen/index.ts';
import type { StrengthBelief, Tool } from '../core/strength/index.ts';
import type { DemoPot } from './scenario.ts';

/** What the making of the demo carries along. */
export type World = {
  manager: EntityManager;
  random: Random;
  uuid: () => string;
  today: LocalDate;
  ids: {
    water: Record<string, string>;
    vessel: Record<string, string>;
    bottles: string[];
    nitric: string;
    ppm: string;
    ph: string;
    bench: string;
    kit: string;
    glass: string;
    tools: string[];
  };
  tools: Tool[];
  belief: StrengthBelief;
  batches: number;
  bottle: number;
};

/** A pot while its year is played through. */
export type LivePot = {
  spec: DemoPot;
  id: string;
  regimen: Regimen;
  nature: SimPotNature;
  state: SimPot;
  visits: number[];
  lastDay: number | undefined;
  lastDue: LocalDate;
  random: Random;
};
