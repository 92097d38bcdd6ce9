import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { Link } from 'react-router';
import type { Turn, TurnCompared, TurnMeasure, TurnsView } from '../../../contract/turns.ts';
import { Failed, Loading } from '../../shell/states.tsx';
import { useWidth } from '../../shell/use-width.ts';
import { FIRST, MEASURE, standsOn } from './turn-words.ts';
import { BESIDE_FROM, chartHeight, Found, TurnsChart } from './turns-chart.tsx';
import { telling, useCompared, useTurns } from './use-turns.ts';

/** Weeks before and after that can be looked at. */
export const SPANS = [4, 8, 12, 26] as const;
export const USUAL_SPAN = 8;

/** What I changed, and what followed: on the Book's first page. */
export function TurnsCard() {
  const turns = useTurns();
  const [chosen, setChosen] = useState<string>();
  const [weeks, setWeeks] = useState(USUAL_SPAN);
  // Its room is kept free from the start, so that nothing below moves away under a finger.
  if (turns.isPending)
    return (
      <section className="sheet turns" aria-label="What I changed, and what followed">
        <div className="turns-top">
          <h2>What I changed, and what followed</h2>
        </div>
        <div style={{ height: chartHeight(FIRST.length) }}>
          <Loading what="what was changed" />
        </div>
        <p className="turn-said" />
      </section>
    );
  if (!turns.data) return <Failed error={turns.error} retry={() => void turns.refetch()} />;
  const view = turns.data;
  const shown = view.turns.filter(({ hidden, on }) => !hidden && on >= view.from);
  const id = chosen ?? telling(view);
  return (
    <section className="sheet turns" aria-label="What I changed, and what followed">
      <div className="turns-top">
        <h2>What I changed, and what followed</h2>
        <span className="small">
          {shown.length === 0
            ? 'nothing was changed in this time'
            : 'dots are weeks, lines their middle; pick a turn to compare the weeks either side'}
        </span>
        <WeeksEitherSide weeks={weeks} change={setWeeks} />
        <Link className="btn btn-sm btn-outline-secondary" to="/book/turns">
          All of it
        </Link>
      </div>
      <TurnsBody
        view={view}
        turns={shown}
        chosen={shown.find((t) => t.id === id)}
        weeks={weeks}
        choose={setChosen}
        lanes={FIRST}
      />
    </section>
  );
}

export function WeeksEitherSide({ weeks, change }: { weeks: number; change(weeks: number): void }) {
  return (
    <Form.Select
      size="sm"
      className="weeks"
      aria-label="Weeks either side"
      value={weeks}
      onChange={(e) => change(Number(e.target.value))}
    >
      {SPANS.map((n) => (
        <option key={n} value={n}>
          {n} weeks
        </option>
      ))}
    </Form.Select>
  );
}

/** The picture, and what it says of the chosen turn. */
export function TurnsBody({
  view,
  turns,
  chosen,
  weeks,
  choose,
  lanes,
  which = {},
}: {
  view: TurnsView;
  turns: readonly Turn[];
  chosen: Turn | undefined;
  weeks: number;
  choose(id: string): void;
  lanes: readonly TurnMeasure[];
  which?: { pot?: string | undefined; place?: string | undefined };
}) {
  const [ref, width] = useWidth(740);
  const compared = useCompared(chosen?.id, weeks, which);
  const told = compared.data?.turn.id === chosen?.id ? compared.data : undefined;
  return (
    <div className="turns-body" ref={ref}>
      <TurnsChart
        view={view}
        turns={turns}
        lanes={view.measures.filter(({ key }) => lanes.includes(key))}
        width={width}
        chosen={chosen}
        compared={told}
        weeks={weeks}
        choose={choose}
      />
      {chosen && (
        <p className="turn-said" aria-live="polite">
          <b>{chosen.title}.</b> {chosen.what.join('. ')}. {told && standsOn(told)}
          {compared.error && (
            <Button variant="link" size="sm" onClick={() => void compared.refetch()}>
              It could not be compared. Try again
            </Button>
          )}
        </p>
      )}
      {width < BESIDE_FROM && told && <BelowIt compared={told} lanes={lanes} />}
    </div>
  );
}

/** On a phone what came of it stands below the picture. */
function BelowIt({ compared, lanes }: { compared: TurnCompared; lanes: readonly TurnMeasure[] }) {
  return (
    <dl className="turn-below">
      {lanes.map((key) => (
        <div key={key}>
          <dt>{MEASURE[key].name}</dt>
          <dd>
            <Found compared={compared} measure={key} />
          </dd>
        </div>
      ))}
    </dl>
  );
}
