import type { BatchView } from '../../contract/bench.ts';
import { judgeBySchools, verdictWords } from '../../core/regimen/index.ts';
import { FEED_BAND } from '../../core/strength/index.ts';
import { ppmText } from '../shell/format.ts';
import { OddCauses } from './reading-entry.tsx';

/** What each school would say of a feed as it reads: they disagree, and one sees by how much. */
export function BySchool({ view: { netPpm, scale, use, advice, parts } }: { view: BatchView }) {
  if (use !== 'feed' || parts.length === 0 || advice.kind === 'readBase' || !(netPpm > 0)) return null;
  return (
    <details className="by-school">
      <summary>What each school would say of {ppmText(netPpm)} over the water</summary>
      <table>
        <caption className="visually-hidden">This strength by each school</caption>
        <tbody>
          {judgeBySchools(netPpm / scale, FEED_BAND).map((s) => (
            <tr key={s.school}>
              <th scope="row">{s.title}</th>
              <td className="num">{s.aimEcUsCm === 0 ? 'none' : ppmText(s.aimEcUsCm * scale)}</td>
              <td className={s.verdict}>{verdictWords(s.verdict)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}

/** A batch a fifth past what its recipe usually comes to: the causes, before it is poured. */
export function MoreThanUsual({ view: { usualNetPpm } }: { view: BatchView }) {
  if (usualNetPpm === null) return null;
  return (
    <div className="caution d-block">
      This recipe usually comes to {ppmText(usualNetPpm)} over the water, and now to a fifth more. Look at these before
      it is poured:
      <OddCauses moment="inside" quantity="ppm" />
    </div>
  );
}

/** Both, where no pH comes between the strength and the pouring. */
export function AsItReads({ view }: { view: BatchView }) {
  if (view.phMeter) return null;
  return (
    <>
      <MoreThanUsual view={view} />
      <BySchool view={view} />
    </>
  );
}
