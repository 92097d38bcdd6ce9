import type { SoakView } from '../../contract/soak.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import type { SoakFound } from '../collection/index.ts';
import type { Pot } from '../database/entities.ts';

/** A soak test as the room shows it; ppm on the grower's pen, pH as the pen showed it. */
export function soakViewOf({ soak, test, result, driedSince }: SoakFound, pot: Pot, scale: number): SoakView {
  const { started } = soak;
  // Drawn as the pen shows it: a pen known to be off is put right in the fit, and the course is put back to it.
  const first = soak.reads.find((r) => r.ph !== undefined && r.shownPh !== undefined);
  const off = first ? first.shownPh! - first.ph! : 0;
  return {
    id: soak.id,
    potId: soak.potId,
    code: pot.code,
    name: pot.name || pot.plant,
    kind: test?.kind ?? started.soakKind,
    startedAt: soak.at,
    on: soak.on,
    endsAt: new Date(Date.parse(soak.at) + started.minutes * 60_000).toISOString(),
    ended: soak.ended !== undefined,
    fillMl: started.fillMl,
    water: soak.named ?? 'what was poured',
    covered: started.covered,
    carried: test?.carried !== undefined,
    leakedMl: soak.ended?.leakedMl ?? null,
    driedSince,
    reads: soak.reads.map((r) => ({
      eventId: r.eventId,
      minutes: r.minutes,
      opened: r.opened,
      ph: r.shownPh ?? null,
      range: r.range ?? null,
      ppm: r.ecUsCm === undefined ? null : Math.round(ppmFromEc(r.ecUsCm, scale)),
      tainted: r.tainted,
    })),
    result: result.ok
      ? {
          ...result,
          course: result.course.map(({ minutes, ph, low, high }) => ({
            minutes,
            ph: ph + off,
            low: low + off,
            high: high + off,
          })),
        }
      : { ok: false, message: result.message },
  };
}
