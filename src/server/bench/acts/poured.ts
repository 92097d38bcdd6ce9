import { carePayloads } from '../../../contract/care.ts';
import type { Rows } from '../../collection/index.ts';
import { setBatch, step } from './step.ts';

/** A batch finished: from here on pots draw on it. */
export const batchPoured = step({
  kind: 'batchPoured',
  payload: carePayloads.batchPoured,
  group: 'Mix',
  words: (p, _named, vol) => `Ready to pour, ${vol(p.volumeL * 1000)}`,
  undone: 'Opened a batch again',
  shows: ({ pouredEcUsCm, pouredPh }) => ({ ecUsCm: pouredEcUsCm, ph: pouredPh }),
  needs: (rows, { batchId }) => {
    const drawn = drawnFrom(rows, batchId!);
    return drawn > 0
      ? `${drawn} pot${drawn === 1 ? ' was' : 's were'} filled from this batch. Take those back first.`
      : null;
  },
  takeBack: (manager, { batchId }) =>
    setBatch(manager, batchId!, {
      status: 'open',
      pouredVolumeL: null,
      pouredEcUsCm: null,
      pouredPh: null,
      afterAcidEcUsCm: null,
      pouredAt: null,
    }),
  putBack: (manager, { batchId, payload, at }) =>
    setBatch(manager, batchId!, { status: 'poured', pouredVolumeL: payload.volumeL, pouredAt: at }),
});

function drawnFrom(rows: Rows, batchId: string): number {
  const [drawn] = rows<{ n: number }>(
    `SELECT count(*) AS n FROM care_event WHERE batchId = ? AND +kind IN ('potFilled', 'supplementStarted', 'potToppedUp') AND voidedBy IS NULL`,
    batchId,
  );
  return drawn!.n;
}
