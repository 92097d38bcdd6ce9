import { lookWords } from '../../contract/seen.ts';
import type { PotView } from '../../contract/pots.ts';
import { useActs } from '../shell/acts.tsx';
import { phText, ppmText, weekdayDayMonth } from '../shell/format.ts';
import { Hollow } from '../shell/hollow.tsx';

/** What was done to a pot, newest first; each visit can be put right, today's taken back. */
export function PotLog({ view, putRight }: { view: PotView; putRight(eventId: string): void }) {
  const { undo } = useActs();
  return (
    <section className="sheet pot-log" aria-label="Log of this pot" tabIndex={0}>
      <h2>Log</h2>
      <ul>
        {[...view.visits].reverse().map((v) => (
          <LogLine key={v.eventId} v={v} view={view} putRight={putRight} undo={undo} />
        ))}
      </ul>
    </section>
  );
}

function LogLine({
  v,
  view,
  putRight,
  undo,
}: {
  v: PotView['visits'][number];
  view: PotView;
  putRight: (eventId: string) => void;
  undo: (targetId: string) => Promise<void>;
}) {
  return (
    <li>
      <div className="d-flex gap-2">
        <b className="nowrap">{v.on === view.today ? `today ${v.time}` : weekdayDayMonth(v.on)}</b>
        <CameOut v={v} />
      </div>
      <div className="small">
        {v.words}
        {v.pouredPpm !== null && ` reading ${ppmText(v.pouredPpm)}`}
        {v.look && v.kind === 'filled' && `; ${lookWords(v.look)}`}
        {v.was && (
          <>
            {' '}
            put right, was <s>{v.was}</s>
          </>
        )}
        {(v.kind === 'filled' || v.kind === 'skipped' || v.kind === 'reread') && (
          <button
            type="button"
            className="btn btn-link btn-sm p-0 ms-2"
            aria-label={`Put right: ${v.words}, ${weekdayDayMonth(v.on)}`}
            onClick={() => putRight(v.eventId)}
          >
            Put right
          </button>
        )}
        {v.on === view.today && (
          <button
            type="button"
            className="btn btn-link btn-sm p-0 ms-2"
            aria-label={`Undo: ${v.words}`}
            onClick={() => void undo(v.eventId)}
          >
            Undo
          </button>
        )}
      </div>
    </li>
  );
}

/** What its old reservoir read. */
function CameOut({ v }: { v: PotView['visits'][number] }) {
  return (
    <span className="push nowrap">
      {v.cameOutPpmOnScale !== null && (
        <>
          <Hollow tainted={v.tainted.includes('cameOutPpm')}>
            <b className="num">{ppmText(v.cameOutPpmOnScale)}</b>
          </Hollow>{' '}
          ppm{' '}
        </>
      )}
      {v.cameOutPh.kind === 'value' && (
        <>
          pH{' '}
          <Hollow tainted={v.tainted.includes('cameOutPh')}>
            <b className="num">{phText(v.cameOutPh.value)}</b>
          </Hollow>
        </>
      )}
      {v.cameOutPpm.kind === 'overRange' && 'over range '}
      {v.kind === 'filled' &&
        v.cameOutPpmOnScale === null &&
        v.cameOutPpm.kind !== 'overRange' &&
        v.cameOutPh.kind !== 'value' && <span className="small">not measured</span>}
    </span>
  );
}
