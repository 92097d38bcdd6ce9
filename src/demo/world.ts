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
    /** The feed in use before last spring. */
    formerFeed: string;
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
  /** Soak tests already done, by their number. */
  soaked: Set<number>;
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

/** A version-4 UUID from the seeded source, so that the same seed makes the same collection. */
export function uuidFrom(random: Random): string {
  const hex = Array.from({ length: 32 }, () => Math.floor(random() * 16).toString(16));
  hex[12] = '4';
  hex[16] = (8 + Math.floor(random() * 4)).toString(16);
  const text = hex.join('');
  return `${text.slice(0, 8)}-${text.slice(8, 12)}-${text.slice(12, 16)}-${text.slice(16, 20)}-${text.slice(20)}`;
}
