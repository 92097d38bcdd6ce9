import type { BatchPartView, BatchView } from '../../contract/bench.ts';
import { ppmText } from '../shell/format.ts';

/** What the part's aim is in other terms, and what the bench has learned of its product. */
export function PartKnown({ view, part }: { view: BatchView; part: BatchPartView }) {
  const mS = part.aim && (part.aim.netPpm / view.scale / 1000).toFixed(2);
  const { strength } = part;
  const per = part.unit === 'g' ? 'ppm per g/L' : 'ppm per mL/L';
  return (
    <div className="sheet known">
      <div>
        <h3>What {part.aim ? `${ppmText(part.aim.netPpm)} over base` : part.aimWords} is</h3>
        <span className="small">
          {part.aim
            ? 'whatever pen reads it, at 25 °C'
            : `${Number((part.doseUnits ?? 0).toFixed(2))} ${part.unit} in this batch`}
        </span>
      </div>
      <div>
        {mS !== null && (
          <>
            <b className="num">{mS}</b> mS/cm
          </>
        )}
        {part.brings && (
          <div className="small" aria-label="what that brings, mg/L">
            {part.brings
              .filter((e) => ['nitrogen', 'calcium', 'magnesium', 'silicon'].includes(e.element) && e.mgL >= 0.05)
              .map((e) => `${e.mgL < 10 ? e.mgL.toFixed(1) : Math.round(e.mgL)} ${e.element}`)
              .join(', ')}{' '}
            mg/L
          </div>
        )}
      </div>
      <div className="learned">
        <b className="num">
          {Math.round(strength.ppmPerMlL)} ± {Math.max(1, Math.round(strength.sd))}
        </b>{' '}
        {per} of this {part.short}
        <div className="small">
          {strength.batches === 0
            ? `a guess of ${Math.round(strength.guessPpmPerMlL)}; every reading teaches it`
            : `learned from ${strength.batches} batch${strength.batches === 1 ? '' : 'es'} of this ${part.method === 'stock' ? 'stock' : 'bottle'}; the first guess was ${Math.round(strength.guessPpmPerMlL)}`}
        </div>
      </div>
    </div>
  );
}
