import { lookWords } from '../../contract/seen.ts';
import Table from 'react-bootstrap/Table';
import type { PotView, PotVisit } from '../../contract/pots.ts';
import type { Reading } from '../../core/quantity/reading.ts';
import { Hollow } from '../shell/hollow.tsx';
import { mL, phText, ppmText, weekdayDayMonth } from '../shell/format.ts';

/** The chart's figures as a table, newest first. */
export function VisitTable({ view, weeks }: { view: PotView; weeks: number }) {
  const from = new Date(new Date(`${view.today}T12:00:00Z`).getTime() - weeks * 7 * 86_400_000)
    .toISOString()
    .slice(0, 10);
  return (
    <div className="visit-table" role="region" aria-label="Visits" tabIndex={0}>
      <Table size="sm" className="mb-0 chart-table">
        <caption className="visually-hidden">Visits, newest first</caption>
        <thead>
          <tr>
            <th scope="col">Day</th>
            <th scope="col">Came out, ppm</th>
            <th scope="col">pH</th>
            <th scope="col">Left</th>
            <th scope="col">Flushed</th>
            <th scope="col">Poured, ppm</th>
            <th scope="col">pH</th>
            <th scope="col">Filled</th>
            <th scope="col">Seen</th>
          </tr>
        </thead>
        <tbody>
          {[...view.visits]
            .reverse()
            .filter((v) => v.on >= from)
            .map((v) => (
              <tr key={v.eventId}>
                <th scope="row" className="nowrap">
                  {weekdayDayMonth(v.on)}
                </th>
                {v.kind !== 'filled' && v.kind !== 'reread' && <td colSpan={8}>{v.words}</td>}
                {v.kind === 'reread' && (
                  <>
                    <StoodIn visit={v} />
                    <td colSpan={5}>{v.words}</td>
                  </>
                )}
                {v.kind === 'filled' && (
                  <>
                    <StoodIn visit={v} />
                    <td>{v.flushMl ? mL(v.flushMl) : '—'}</td>
                    <td>
                      <Hollow tainted={v.pouredPpm !== null && v.tainted.includes('pouredPpm')}>
                        {v.pouredPpm === null ? 'not measured' : ppmText(v.pouredPpm)}
                      </Hollow>
                    </td>
                    <td>
                      <Hollow tainted={v.pouredPh !== null && v.tainted.includes('pouredPh')}>
                        {v.pouredPh === null ? '—' : phText(v.pouredPh)}
                      </Hollow>
                    </td>
                    <td>{v.pouredMl === null ? '—' : mL(v.pouredMl)}</td>
                    <td>{v.look === null ? '—' : lookWords(v.look)}</td>
                  </>
                )}
              </tr>
            ))}
        </tbody>
      </Table>
    </div>
  );
}

/** What stood in the pot: strength, pH, and how much was left. */
function StoodIn({ visit: { cameOutPpm, cameOutPpmOnScale, cameOutPh, leftMl, tainted } }: { visit: PotVisit }) {
  return (
    <>
      <td>
        <Hollow tainted={cameOutPpm.kind !== 'notMeasured' && tainted.includes('cameOutPpm')}>
          {cameOutPpmOnScale === null ? readingText(cameOutPpm) : ppmText(cameOutPpmOnScale)}
        </Hollow>
      </td>
      <td>
        <Hollow tainted={cameOutPh.kind !== 'notMeasured' && tainted.includes('cameOutPh')}>
          {readingText(cameOutPh, phText)}
        </Hollow>
      </td>
      <td>{leftMl === null ? '—' : mL(leftMl)}</td>
    </>
  );
}

function readingText(reading: Reading, format: (v: number) => string = String): string {
  switch (reading.kind) {
    case 'value':
      return format(reading.value);
    case 'range':
      return `${format(reading.low)} to ${format(reading.high)}`;
    case 'overRange':
      return 'over range';
    case 'notMeasured':
      return 'not measured';
  }
}
