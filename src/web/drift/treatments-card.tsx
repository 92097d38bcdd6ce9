import { useState, type FormEvent } from 'react';
import { extent } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { DriftPot, TreatmentView } from '../../contract/drift.ts';
import { TREATMENT_WORDS, TREATMENTS, type TreatmentKind } from '../../contract/kinds.ts';
import { newId } from '../shell/api.ts';
import { dayMonth, phText } from '../shell/format.ts';
import { Link } from 'react-router';
import { FormModal } from '../shell/form-modal.tsx';
import { LabelledField } from '../shell/labelled-field.tsx';
import { otherProblems, problemAt } from '../shell/use-act.ts';
import { useDriftAct } from './use-drift-act.ts';
import { DateInput } from '../shell/date-input.tsx';

const VERDICTS: Record<TreatmentView['verdict'], { words: string; chip: string }> = {
  helps: { words: 'holding', chip: 'good' },
  nothing: { words: 'no difference', chip: '' },
  worse: { words: 'lifts pH more since', chip: 'late' },
  cannotTell: { words: 'cannot tell yet', chip: 'soon' },
};
const SHOWN = 2;

/** What was tried against clays that push, and what the readings say of it. */
export function TreatmentsCard({
  treatments,
  pot,
  today,
}: {
  treatments: readonly TreatmentView[];
  pot: DriftPot;
  today: string;
}) {
  const [adding, setAdding] = useState(false);
  const [all, setAll] = useState(false);
  const mine = [...treatments].sort((a, b) => Number(b.potId === pot.id) - Number(a.potId === pot.id));
  const shown = all ? mine : mine.slice(0, SHOWN);
  return (
    <section className="sheet tried" aria-label="Treatments tried">
      <div className="d-flex align-items-baseline gap-2">
        <h2>Treatments tried</h2>
        <span className="small">none is proven</span>
        <Button size="sm" variant="outline-secondary" className="push" onClick={() => setAdding(true)}>
          Try one
        </Button>
      </div>
      {shown.map((t) => (
        <Tried key={t.id} treatment={t} />
      ))}
      {mine.length === 0 && (
        <p className="small mb-0">
          Nothing was tried yet. Test a pot before and after, so that the readings can say whether it helped.
        </p>
      )}
      {mine.length > SHOWN && (
        <button type="button" className="btn btn-link btn-sm p-0 align-self-start" onClick={() => setAll(!all)}>
          {all ? 'fewer' : `${mine.length - SHOWN} more`}
        </button>
      )}
      {adding && <TreatmentForm pot={pot} today={today} onClose={() => setAdding(false)} />}
    </section>
  );
}

function Tried({ treatment: t }: { treatment: TreatmentView }) {
  const { send, busy } = useDriftAct();
  const verdict = VERDICTS[t.verdict];
  return (
    <div className="tr">
      <div className="min-0">
        <b>
          {TREATMENT_WORDS[t.kind]}, {t.code}
        </b>
        <span className="small" title={t.note}>
          since {dayMonth(t.fromDate)}
          {t.toDate && ` to ${dayMonth(t.toDate)}`}: {t.words}
        </span>
        <div className="d-flex gap-2 align-items-center">
          <span className={`chip ${verdict.chip}`}>{verdict.words}</span>
          {t.toDate === null && (
            <button
              type="button"
              className="btn btn-link btn-sm p-0"
              disabled={busy}
              onClick={() =>
                void send(
                  { kind: 'endTreatment', treatmentId: t.id },
                  `${t.code}: ended ${TREATMENT_WORDS[t.kind].toLowerCase()}`,
                )
              }
            >
              End it
            </button>
          )}
        </div>
      </div>
      <Spark treatment={t} />
    </div>
  );
}

/** pH that came out, before and since. */
function Spark({ treatment: { points } }: { treatment: TreatmentView }) {
  if (points.length < 2) return <span className="small">too few readings</span>;
  const [low, high] = extent(points, (p) => p.ph) as [number, number];
  const x = scaleLinear([0, points.length - 1], [6, 96]);
  const y = scaleLinear([Math.min(low, 6.4) - 0.1, Math.max(high, 6.6) + 0.1], [44, 14]);
  const first = points.findIndex((p) => p.since);
  const last = points.at(-1)!;
  return (
    <svg
      viewBox="0 0 102 62"
      width="102"
      height="62"
      role="img"
      aria-label={`pH of the old reservoir: ${points.map((p) => phText(p.ph)).join(', ')}`}
    >
      <rect x="2" y={y(6.5)} width="98" height={Math.max(0, 46 - y(6.5))} fill="#dcebdf" />
      <path
        d={`M${points.map((p, i) => `${x(i)} ${y(p.ph)}`).join('L')}`}
        fill="none"
        stroke="#7a590e"
        strokeWidth="1.600"
      />
      {points.map((p, i) => (
        <circle
          key={p.on}
          cx={x(i)}
          cy={y(p.ph)}
          r="2.600"
          fill={p.since ? '#fffdf8' : '#7a590e'}
          stroke="#7a590e"
          strokeWidth="1.300"
        />
      ))}
      {first > 0 && <path d={`M${(x(first) + x(first - 1)) / 2} 10V46`} stroke="#1e2b2c" strokeDasharray="2 2" />}
      <text x="98" y={Math.max(10, y(last.ph) - 6)} textAnchor="end" fontSize="12" fontWeight="650" fill="#7a590e">
        {phText(last.ph)}
      </text>
      <text x="2" y="60" fontSize="11" fill="#54615f">
        before
      </text>
      <text x="100" y="60" textAnchor="end" fontSize="11" fill="#54615f">
        since
      </text>
    </svg>
  );
}

function TreatmentForm({ pot, today, onClose }: { pot: DriftPot; today: string; onClose(): void }) {
  const [texts, setTexts] = useState({ kind: 'wet', note: '', from: today });
  const { send, problems, busy } = useDriftAct();
  const kind = texts.kind as TreatmentKind;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const words = `${pot.code}: trying ${TREATMENT_WORDS[kind].toLowerCase()}`;
    if (
      await send(
        {
          kind: 'startTreatment',
          treatmentId: newId(),
          potId: pot.id,
          treatment: kind,
          note: texts.note,
          fromDate: texts.from,
        },
        words,
      )
    )
      onClose();
  };
  return (
    <FormModal
      title={`Try something in ${pot.code}`}
      onClose={onClose}
      submit={(e) => void submit(e)}
      busy={busy}
      keep="Try it"
    >
      <p className="small mb-0">
        {HEARD[kind]} On several pots, half of them with it:{' '}
        <Link to={`/book/trials/new?treatment=${kind}&pots=${pot.id}`}>make a trial of it</Link>. A soak test now and
        another of the same kind later let the readings say whether it helped.
      </p>
      <LabelledField label="What" error={undefined}>
        {(a) => (
          <Form.Select {...a} value={texts.kind} onChange={(e) => setTexts({ ...texts, kind: e.target.value })}>
            {TREATMENTS.map((t) => (
              <option key={t} value={t}>
                {TREATMENT_WORDS[t]}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      <LabelledField label="Since" error={problemAt(problems, 'fromDate')}>
        {(a) => (
          <DateInput
            {...a}
            max={today}
            value={texts.from}
            onChange={(e) => setTexts({ ...texts, from: e.target.value })}
          />
        )}
      </LabelledField>
      <LabelledField label="Note" error={problemAt(problems, 'note')}>
        {(a) => (
          <Form.Control
            {...a}
            autoComplete="off"
            maxLength={200}
            value={texts.note}
            onChange={(e) => setTexts({ ...texts, note: e.target.value })}
          />
        )}
      </LabelledField>
      {(texts.kind === 'acidSoak' || texts.kind === 'lowerPour') && (
        <p className="small caution mb-0">
          Acid into water and never the reverse; gloves and eyes covered; follow the product’s label.
        </p>
      )}
      {otherProblems(problems, ['fromDate', 'note']) && (
        <p className="field-error mb-0" role="alert">
          {otherProblems(problems, ['fromDate', 'note'])}
        </p>
      )}
    </FormModal>
  );
}

/** What is heard of each. */
const HEARD: Record<TreatmentKind, string> = {
  acidSoak: 'Weeks in acid held until the clay dried, then it was back; a night in vinegar did nothing.',
  feedSoak: 'A soak in feed before use: no effect was seen.',
  wet: 'Drying out brings the push back; clay that is never let dry gives less at each filling.',
  peat: 'Hard peat granules are a slow acid. Proposed, not proven.',
  buffered: 'Better buffered water swings less. Proposed, not proven.',
  otherClay: 'Bags differ: leach and test another one before the plant moves.',
  lowerPour: 'A lower pour is what most live with: it does not change the clay, only where the swing begins.',
};
