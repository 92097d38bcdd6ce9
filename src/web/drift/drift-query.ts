import {
  MODELS_AT_ONCE,
  type AcidsFor,
  type DriftRoom,
  type MixAdvice,
  type NotYet,
  type PotDrift,
  type PotModelWire,
} from '../../contract/drift.ts';
import { get } from '../shell/api.ts';

export const driftQuery = { queryKey: ['drift'], queryFn: () => get<DriftRoom>('/api/drift') };
export const potDriftQuery = (potId: string) => ({
  queryKey: ['drift', 'pot', potId],
  /** Null of a pot nothing can be foretold of yet. */
  queryFn: async () => {
    const found = await get<PotDrift | NotYet>(`/api/drift/pots/${potId}`);
    return 'notYet' in found ? null : found;
  },
});
export const modelsQuery = { queryKey: ['drift', 'models'], queryFn: everyModel };
async function everyModel(): Promise<PotModelWire[]> {
  const all: PotModelWire[] = [];
  for (;;) {
    const some = await get<PotModelWire[]>(`/api/drift/models?from=${all.length}`);
    all.push(...some);
    if (some.length < MODELS_AT_ONCE) return all;
  }
}
export const mixAdviceQuery = (mixKey: string, by: string) => ({
  queryKey: ['drift', 'mix', mixKey, by],
  queryFn: () => get<MixAdvice>(`/api/drift/mix?mix=${encodeURIComponent(mixKey)}&by=${by}`),
});
export const acidsQuery = (mixKey: string, ph: number, litres: number) => ({
  queryKey: ['drift', 'acids', mixKey, ph, litres],
  queryFn: () => get<AcidsFor>(`/api/drift/acids?mix=${encodeURIComponent(mixKey)}&ph=${ph}&litres=${litres}`),
});
