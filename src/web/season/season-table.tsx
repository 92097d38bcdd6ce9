import { Fragment, type ReactNode } from 'react';
import Table from 'react-bootstrap/Table';
import type { SeasonView } from '../../contract/season.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { litres, weekdayDayMonth } from '../shell/format.ts';
import type { LaneRow } from './lanes.ts';
import type { PlanOf } from './make-plans.ts';

type Props = {
  view: SeasonView;
  plan: PlanOf;
  rows: readonly LaneRow[];
  chosen: number | undefined;
  onChoose(day: number): void;
  /** What is told of the day chosen, under its row. */
  told?: ReactNode;
};

/** The plan day by day, as a table: what the picture draws. */
export function SeasonTable({ view, plan, rows, chosen, onChoose, told }: Props) {
  const tank = view.problem.tank !== null;
  const days = plan.lived.days.flatMap((lived, day) => {
    const acts = rows.flatMap(({ lane, days: at }) =>
      at
        .filter((one) => one.day === day)
        .map((one) => ({
          id: lane.id,
          much: one.potIds.length > 0 ? String(one.potIds.length) : (one.words?.length ?? litres(one.litres)),
          place: lane.place,
          what: one.words?.join('; ') ?? lane.what,
        })),
    );
    return acts.length === 0 ? [] : [{ day, acts, lived }];
  });
  return (
    <Table size="sm" className="mb-0 season-table">
      <caption className="visually-hidden">Days with work, with what each takes and leaves</caption>
      <thead>
        <tr>
          <th scope="col">Day</th>
          <th scope="col">Pots</th>
          <th scope="col" className="text-end">
            Mixes
          </th>
          {tank && (
            <th scope="col" className="text-end">
              Takes, leaves
            </th>
          )}
        </tr>
      </thead>
      <tbody>
        {days.map(({ day, acts, lived }) => (
          <Fragment key={day}>
            <tr className={day === chosen ? 'chosen' : ''}>
              <th scope="row">
                <button type="button" className="btn btn-link btn-sm p-0 text-start" onClick={() => onChoose(day)}>
                  {weekdayDayMonth(plusDays(view.on, day))}
                </button>
              </th>
              <td>
                {acts.map(({ id, much, place, what }) => (
                  <div key={id}>
                    <b className="num">{much}</b> {place} <span className="small">{what}</span>
                  </div>
                ))}
              </td>
              <td className="text-end num">{lived.mixes.length}</td>
              {tank && (
                <td className="text-end nowrap num">
                  {litres(lived.usedL)}, {litres(lived.afterL)}
                </td>
              )}
            </tr>
            {told && day === chosen && (
              <tr>
                <td colSpan={tank ? 4 : 3}>{told}</td>
              </tr>
            )}
          </Fragment>
        ))}
      </tbody>
    </Table>
  );
}
