import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { SeasonAct, SeasonView } from '../../contract/season.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { inLargeUnit, largeSign, litres, readLarge, weekdayDayMonth } from '../shell/format.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { useAct } from '../shell/use-act.ts';

/** How much still water is made or brought by the morning of a day: otherwise than usual where the grower says so. */
export function MadeThatDay({ view, day }: { view: SeasonView; day: number }) {
  const [open, setOpen] = useState(false);
  const madeL = madeBy(view, day);
  if (open) return <MadeForm view={view} day={day} onClose={() => setOpen(false)} />;
  return (
    <p className="small mb-0">
      Made or brought by that morning: {litres(madeL)}.{' '}
      <Button variant="link" size="sm" className="p-0" onClick={() => setOpen(true)}>
        More or less …
      </Button>
    </p>
  );
}

/** What the tank gains between the work of the day before and that of this one, L. */
const madeBy = ({ problem }: SeasonView, day: number): number => problem.tank!.madeL[day - 1]!;

function MadeForm({ view, day, onClose }: { view: SeasonView; day: number; onClose(): void }) {
  const { send, problems, setProblems, busy } = useAct('/api/season/acts');
  const on = plusDays(view.on, day);
  const [text, setText] = useState(inLargeUnit(madeBy(view, day) * 1000));
  const keep = async (amount: number | null) => {
    const body: SeasonAct = { kind: 'made', on, litres: amount };
    const words = `Still water on ${weekdayDayMonth(on)}: ${amount === null ? 'as usual' : litres(amount)}`;
    if (await send(body, words)) onClose();
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const read = readLarge(text);
    if (read.kind === 'volume') return void keep(read.ml / 1000);
    setProblems({ litres: read.kind === 'unclear' ? read.message : 'Give how much, such as 9; 0 where none is made.' });
  };
  return (
    <form className="made-form" noValidate onSubmit={submit}>
      <LabelledField label={`Made or brought by that morning, ${largeSign()}`} error={Object.values(problems)[0]}>
        {(a) => (
          <Form.Control
            {...a}
            size="sm"
            inputMode="decimal"
            autoFocus
            value={text}
            onChange={(e) => setText(e.target.value)}
            onKeyDown={(e) => e.key === 'Escape' && onClose()}
          />
        )}
      </LabelledField>
      <Button type="submit" size="sm" disabled={busy}>
        Plan with it
      </Button>
      <Button variant="outline-secondary" size="sm" disabled={busy} onClick={() => void keep(null)}>
        As usual
      </Button>
    </form>
  );
}
