import type { Tool } from '../src/core/strength/index.ts';

/** What most benches have at hand, and its pen. */
export const TOOLS: Tool[] = [
  { kind: 'dropper', id: 'd', name: 'glass dropper', dropsPerMl: 18 },
  { kind: 'syringe', id: 's1', name: '1 mL syringe', capacityMl: 1, stepMl: 0.05 },
  { kind: 'syringe', id: 's5', name: '5 mL syringe', capacityMl: 5, stepMl: 0.2 },
  { kind: 'syringe', id: 's20', name: '20 mL syringe', capacityMl: 20, stepMl: 1 },
];
export const PEN = { resolutionEcUsCm: 2, relativeSd: 0.02 };
