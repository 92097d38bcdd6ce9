import type { GivenMonthView, PotAdvice } from '../../contract/advice.ts';
import { litres, money } from '../shell/format.ts';

const ELEMENTS = [
  { key: 'N', name: 'nitrogen', ink: '#2f6b45' },
  { key: 'P', name: 'phosphorus', ink: '#b9ab92' },
  { key: 'K', name: 'potassium', ink: '#d79a7c' },
  { key: 'Ca', name: 'calcium', ink: '#8fc2c0' },
  { key: 'Mg', name: 'magnesium', ink: '#a24e2c' },
  { key: 'Si', name: 'silicon', ink: '#6b6b86' },
] as const;
const MONTHS = 8;
const H = 120;
const W = 46;

const monthName = (month: string) =>
  new Date(`${month}-15T12:00:00Z`).toLocaleDateString('en-GB', { month: 'short', timeZone: 'UTC' });
const total = ({ mg }: GivenMonthView) => ELEMENTS.reduce((sum, e) => sum + mg[e.key], 0);

/** What stayed in the pot, month by month, as bars and as a table, and the still water it took. */
export function GivenCard({ advice, today }: { advice: PotAdvice; today: string }) {
  const months = advice.given.slice(-MONTHS);
  if (months.length === 0) return null;
  const most = Math.max(...months.map(total), 1);
  const last = months.slice(-4);
  const n = months.filter((m) => m.month !== today.slice(0, 7)).at(-1);
  const { usesN } = advice;
  return (
    <section className="sheet given" aria-label="What it has been given">
      <div className="d-flex align-items-baseline gap-2 flex-wrap">
        <h2>What it has been given</h2>
        <span className="small">mg in this pot each month, counting only what stayed; still water below</span>
      </div>
      <div className="given-cols">
        <svg
          className="chart"
          viewBox={`0 0 ${months.length * (W + 10)} ${H + 50}`}
          role="img"
          aria-label={months.map((m) => `${monthName(m.month)} ${Math.round(total(m))} mg`).join(', ')}
        >
          {months.map((m, i) => {
            let y = H + 14;
            const x = i * (W + 10) + 5;
            return (
              <g key={m.month}>
                {ELEMENTS.map((e) => {
                  const h = (m.mg[e.key] / most) * H;
                  y -= h;
                  return h < 0.5 ? null : <rect key={e.key} x={x} y={y} width={W} height={h} fill={e.ink} />;
                })}
                <text x={x + W / 2} y={y - 4} textAnchor="middle" fontSize="12" fontWeight="650" fill="#1e2b2c">
                  {Math.round(total(m))}
                </text>
                <text x={x + W / 2} y={H + 29} textAnchor="middle" fontSize="12" fill="#54615f">
                  {monthName(m.month)}
                </text>
                <text x={x + W / 2} y={H + 45} textAnchor="middle" fontSize="11.5" fill="#0e5a63" fontWeight="650">
                  {litres(m.stillL)}
                </text>
              </g>
            );
          })}
        </svg>
        <table>
          <thead>
            <tr>
              <th>
                <span className="visually-hidden">Element</span>
              </th>
              {last.map((m) => (
                <th key={m.month} scope="col">
                  {monthName(m.month)}
                  {m.month === today.slice(0, 7) && ' so far'}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {ELEMENTS.map((e) => (
              <tr key={e.key}>
                <th scope="row">
                  <i className="swatch" style={{ background: e.ink }} /> <b>{e.key}</b> {e.name}
                </th>
                {last.map((m) => (
                  <td key={m.month} className="num">
                    {m.mg[e.key] < 0.05 ? '–' : m.mg[e.key] < 10 ? m.mg[e.key].toFixed(1) : Math.round(m.mg[e.key])}
                  </td>
                ))}
              </tr>
            ))}
            {last.some((m) => m.cost !== null) && (
              <tr>
                <th scope="row">cost, as far as priced</th>
                {last.map((m) => (
                  <td key={m.month} className="num">
                    {m.cost === null ? '–' : money(m.cost)}
                  </td>
                ))}
              </tr>
            )}
          </tbody>
        </table>
      </div>
      {usesN && n && (
        <p className="small mb-0">
          Such a plant in this pot uses about {usesN.low} to {usesN.high} mg of nitrogen in a month of growth, by our
          rule of thumb; {monthName(n.month)} left {Math.round(n.mg.N)}.
        </p>
      )}
    </section>
  );
}
