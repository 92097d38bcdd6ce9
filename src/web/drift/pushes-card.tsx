import { scaleLinear } from 'd3-scale';
import { Link } from 'react-router';
import type { DriftPot, DriftRoom } from '../../contract/drift.ts';
import { Z90 } from '../../core/statistics/index.ts';
import { Icon } from '../drawing/icon.tsx';
import { Term } from '../shell/term.tsx';

const SHOWN = 7;

type Row = {
  key: string;
  name: string;
  dried: number;
  mean: number;
  sd: number;
  potId: string | null;
  chosen: boolean;
};

/** Who gives most alkali in a week, pots and clays: bars with how sure that is. */
export function PushesCard({ room, chosen }: { room: DriftRoom; chosen: string | undefined }) {
  const pots = room.pots.map((p): Row => toRow(p, p.id === chosen));
  const clays = room.clays.map((c): Row => ({
    key: c.name,
    name: `Batch ${c.name}, ${c.pots} pots`.replace('Batch batch', 'Batch'),
    dried: 0,
    mean: c.weekUeq.mean,
    sd: c.weekUeq.sd,
    potId: null,
    chosen: false,
  }));
  const order = [...pots, ...clays].sort((a, b) => b.mean - a.mean);
  const shown = order.slice(0, SHOWN);
  const mine = order.find((r) => r.chosen);
  if (mine && !shown.includes(mine)) shown.splice(SHOWN - 1, 1, mine);
  const high = Math.max(10, ...shown.map((r) => r.mean + Z90 * r.sd));
  const low = Math.min(0, ...shown.map((r) => r.mean));
  const x = scaleLinear([low, high], [0, 118]);
  return (
    <section className="sheet rank" aria-label="Who lifts pH most">
      <div className="d-flex align-items-baseline">
        <h2>Who lifts pH most</h2>
        <span className="small push nowrap">
          <Term of="alkali">alkali</Term>, µeq a week
        </span>
      </div>
      <ul>
        {shown.map((r) => (
          <li key={r.key} className={r.chosen ? 'chosen' : ''}>
            <span className="who">
              {r.potId ? <Link to={`/drift?pot=${r.potId}`}>{r.chosen ? `${r.name}, this pot` : r.name}</Link> : r.name}
              {r.dried > 0 && (
                <span title={`dried out ${r.dried} time${r.dried === 1 ? '' : 's'}`}>
                  {' '}
                  <Icon name="dropletHalf" />
                  <small>{r.dried}×</small>
                </span>
              )}
            </span>
            <svg viewBox="0 0 122 16" width="122" height="16" aria-hidden>
              <rect
                x={x(Math.min(0, r.mean))}
                y="2"
                width={Math.max(1, Math.abs(x(r.mean) - x(0)))}
                height="12"
                rx="2"
                fill={r.chosen ? '#a24e2c' : '#ddb29a'}
              />
              <path
                d={`M${Math.max(0, x(r.mean - Z90 * r.sd))} 8H${Math.min(120, x(r.mean + Z90 * r.sd))}`}
                stroke="#1e2b2c"
                strokeWidth="1.300"
              />
            </svg>
            <b className="num">{String(Math.round(r.mean)).replace('-', '−')}</b>
            <span className="visually-hidden">plus or minus {Math.round(Z90 * r.sd)}</span>
          </li>
        ))}
      </ul>
      <div className="small d-flex">
        <span>clay and roots; under 0: roots take more</span>
        <Link className="push nowrap" to="/drift/all">
          all pots
        </Link>
      </div>
    </section>
  );
}

function toRow(p: DriftPot, chosen: boolean): Row {
  return { key: p.id, name: p.code, dried: p.dried, mean: p.weekUeq.mean, sd: p.weekUeq.sd, potId: p.id, chosen };
}
