import { useState, type FormEvent } from 'react';
import Form from 'react-bootstrap/Form';
import type { ShelfRoom } from '../../contract/shelf.ts';
import type { PlanAct } from '../../contract/shell.ts';
import {
  checkError,
  EC_PER_C,
  isGood,
  STANDARD_IDS,
  STANDARDS,
  standardValue,
  type StandardId,
} from '../../core/quantity/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { useActs } from '../shell/acts.tsx';
import { newId, ProblemError } from '../shell/api.ts';
import { dayMonth } from '../shell/format.ts';
import { readNumber } from '../shell/field-reader.ts';
import { FormModal } from '../shell/form-modal.tsx';
import { LabelledField } from '../shell/labelled-field.tsx';
import { otherProblems, problemAt, useAct } from '../shell/use-act.ts';
import { signed } from './meter-sheet.tsx';
import type { RoomMeter } from './chemistry.ts';
import { DateInput } from '../shell/date-input.tsx';

/** A temperature standards are listed for, or none. */
const withinScale = (warm: number | undefined) => (warm !== undefined && warm >= 0 && warm <= 50 ? warm : null);

/** What a pen in order shows in a standard at a temperature, in its own unit and digits. */
function shouldShow(
  standard: StandardId | 'zero',
  { quantity, unit, scale, compensated }: RoomMeter['values'],
  temperatureC: number | null,
): number {
  if (standard === 'zero') return 0;
  const value = standardValue(standard, temperatureC);
  if (quantity === 'pH') return Number(value.toFixed(2));
  const warmed = compensated ? 1 : 1 + EC_PER_C * ((temperatureC ?? 25) - 25);
  return Number((value * (scale ?? 0.5) * warmed).toFixed(unit === 'mS/cm' ? 2 : 0));
}

/** A pen in a standard or in air, step by step; what it finds is said before it is kept, and a pen found off can be marked at once. */
export function CheckMeter({
  room,
  meterId,
  onClose,
  onMark,
}: {
  room: ShelfRoom;
  meterId: string;
  onClose(): void;
  onMark(offBy: number | null): void;
}) {
  const meter = room.meters.find((m) => m.id === meterId)!;
  const { values } = meter;
  const options: (StandardId | 'zero')[] = [
    ...(values.quantity === 'ppm' ? (['zero'] as const) : []),
    ...STANDARD_IDS.filter((id) => STANDARDS[id].quantity === values.quantity),
  ];
  const [standard, setStandard] = useState<StandardId | 'zero'>(values.quantity === 'ppm' ? 'ec1413' : 'ph686');
  const [shown, setShown] = useState('');
  const [temperature, setTemperature] = useState('');
  const [settled, setSettled] = useState(true);
  const [adjusted, setAdjusted] = useState(false);
  const { send, problems, setProblems, busy } = useAct('/api/shelf/acts');
  const value = readNumber(shown);
  const warm = readNumber(temperature);
  const temperatureC = withinScale(warm);
  const check = { standard, shown: value ?? 0, temperatureC, settled };
  const error = value === undefined || !Number.isFinite(value) ? undefined : checkError(check, values);
  const good = error !== undefined && isGood(check, values);
  const off = error !== undefined && !good && !adjusted;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (value === undefined || !Number.isFinite(value)) {
      setProblems({ shown: 'Give what it shows, such as 707.' });
      return;
    }
    const body = {
      kind: 'checkMeter',
      meterId,
      standard,
      shown: value,
      temperatureC: warm === undefined ? null : warm,
      settled,
      adjusted,
    };
    if (!(await send(body, `Checked ${values.name}`))) return;
    // By how much it is off at zero says nothing of its share elsewhere; one that would not settle, nothing at all.
    if (off) onMark(standard === 'zero' || !settled ? null : error);
    else onClose();
  };
  const expected = shouldShow(standard, values, temperatureC);
  return (
    <FormModal
      title={`Check ${values.name}`}
      keep={off ? 'Keep it, and mark the pen' : 'Keep the check'}
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={onClose}
      wrong={otherProblems(problems, ['standard', 'shown', 'temperatureC'])}
    >
      <ol className="small mb-0 routine">
        {values.quantity === 'ppm' && <li>Look at it in air first: it should show 0.</li>}
        <li>Rinse in clean water, shake off, dip into a little of the standard poured out. Never pour it back.</li>
        <li>Stir, and wait until it stands still.</li>
      </ol>
      <div className="pair">
        <LabelledField label="In" error={problemAt(problems, 'standard')}>
          {(a) => (
            <Form.Select {...a} value={standard} onChange={(e) => setStandard(e.target.value as StandardId | 'zero')}>
              {options.map((id) => (
                <option key={id} value={id}>
                  {id === 'zero' ? 'air' : STANDARDS[id].name}
                </option>
              ))}
            </Form.Select>
          )}
        </LabelledField>
        {standard !== 'zero' && (
          <LabelledField label="At, °C" error={problemAt(problems, 'temperatureC')} hint="empty: 25">
            {(a) => (
              <Form.Control
                {...a}
                inputMode="decimal"
                autoComplete="off"
                value={temperature}
                onChange={(e) => setTemperature(e.target.value)}
              />
            )}
          </LabelledField>
        )}
      </div>
      <LabelledField label="It shows" error={problemAt(problems, 'shown')} hint={`it should show ${expected}`}>
        {(a) => (
          <Form.Control
            {...a}
            autoFocus
            inputMode="decimal"
            autoComplete="off"
            value={shown}
            onChange={(e) => setShown(e.target.value)}
          />
        )}
      </LabelledField>
      <Form.Check
        type="checkbox"
        id="settled"
        label="It stood still"
        checked={settled}
        onChange={(e) => setSettled(e.target.checked)}
      />
      <Form.Check
        type="checkbox"
        id="adjusted"
        label="I set it to the standard"
        checked={adjusted}
        onChange={(e) => setAdjusted(e.target.checked)}
      />
      <Finding
        error={error}
        good={good}
        standard={standard}
        value={value}
        settled={settled}
        values={values}
        adjusted={adjusted}
      />
    </FormModal>
  );
}

function Finding({
  error,
  good,
  standard,
  value,
  settled,
  values,
  adjusted,
}: {
  error: number | undefined;
  good: boolean;
  standard: StandardId | 'zero';
  value: number | undefined;
  settled: boolean;
  values: RoomMeter['values'];
  adjusted: boolean;
}) {
  if (error === undefined) return null;
  return (
    <p className={`chip wrap mb-0 ${good ? 'good' : 'late'}`} role="status">
      {good
        ? '✓ In order.'
        : standard === 'zero'
          ? `Not at zero: it shows ${value}. Rinse and dry it; if it stays, set it, or mark it as off.`
          : !settled
            ? 'It will not settle: a flat battery or a dying probe. Its readings are suspect back to the last good check.'
            : `It reads ${values.quantity === 'pH' ? `${signed(error, 2)} off` : `${Math.abs(100 * error).toFixed(0)} % ${error < 0 ? 'low' : 'high'}`}. ${adjusted ? 'Set now; what it read before can be marked.' : 'Set it, or mark it: what it read since its last good check cannot be trusted.'}`}
    </p>
  );
}

/** Marks a pen as off from a day: its readings are drawn hollow everywhere until it is set. Reversible. */
export function MarkMeter({
  room,
  meterId,
  offBy,
  onClose,
}: {
  room: ShelfRoom;
  meterId: string;
  offBy: number | null;
  onClose(): void;
}) {
  const meter = room.meters.find((m) => m.id === meterId)!;
  const { values, wouldTaintFromOn: goodOn } = meter;
  const ph = values.quantity === 'pH';
  const [since, setSince] = useState<'check' | 'day'>(goodOn ? 'check' : 'day');
  const [day, setDay] = useState(plusDays(room.today, -21));
  const [by, setBy] = useState(offBy === null ? '' : (ph ? offBy : 100 * offBy).toFixed(ph ? 2 : 0));
  const [why, setWhy] = useState('');
  const { send, problems, setProblems, busy } = useAct('/api/shelf/acts');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const typed = readNumber(by.replace('−', '-'));
    if (typed !== undefined && !Number.isFinite(typed)) {
      setProblems({
        offBy: ph ? 'Give pH, such as −0.2, or leave it empty.' : 'Give percent, such as −12, or leave it empty.',
      });
      return;
    }
    const body = {
      kind: 'markMeter',
      meterId,
      fromOn: since === 'check' ? null : day,
      offBy: typed === undefined ? null : ph ? typed : typed / 100,
      why,
    };
    if (await send(body, `Marked ${values.name} as off`)) onClose();
  };
  return (
    <FormModal
      title={`${values.name} reads wrong`}
      keep="Draw its readings hollow"
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={onClose}
      wrong={otherProblems(problems, ['fromOn', 'offBy', 'why'])}
    >
      <p className="small mb-0">
        What it read since then is kept as it stood, drawn hollow everywhere, and counts less. It ends when the pen is
        next set or found in order, and can be undone.
      </p>
      {goodOn && (
        <Form.Check
          type="radio"
          id="since-check"
          name="since"
          label={`Since its last good check, ${dayMonth(goodOn)}`}
          checked={since === 'check'}
          onChange={() => setSince('check')}
        />
      )}
      <Form.Check
        type="radio"
        id="since-day"
        name="since"
        label="Since a day I can name"
        checked={since === 'day'}
        onChange={() => setSince('day')}
      />
      {since === 'day' && (
        <LabelledField label="From" error={problemAt(problems, 'fromOn')}>
          {(a) => <DateInput {...a} max={room.today} value={day} onChange={(e) => setDay(e.target.value)} />}
        </LabelledField>
      )}
      <LabelledField
        label={ph ? 'Off by, pH' : 'Off by, percent'}
        error={problemAt(problems, 'offBy')}
        hint="below zero: it reads low; empty: not known"
      >
        {(a) => <Form.Control {...a} autoComplete="off" value={by} onChange={(e) => setBy(e.target.value)} />}
      </LabelledField>
      <LabelledField label="Why" error={problemAt(problems, 'why')}>
        {(a) => (
          <Form.Control
            {...a}
            autoComplete="off"
            placeholder="flat battery, disagrees with the kit"
            value={why}
            onChange={(e) => setWhy(e.target.value)}
          />
        )}
      </LabelledField>
    </FormModal>
  );
}

/** A dropper's size: by counting drops into a measured mL, or by weighing counted drops. */
export function CountDrops({ room, toolId, onClose }: { room: ShelfRoom; toolId: string; onClose(): void }) {
  const tool = room.tools.find((t) => t.id === toolId)!;
  const [way, setWay] = useState<'count' | 'weigh'>('count');
  const [drops, setDrops] = useState('');
  const [amount, setAmount] = useState('1');
  const { put } = useActs();
  const [error, setError] = useState<string>();
  const [busy, setBusy] = useState(false);
  const [n, ml] = [readNumber(drops), readNumber(amount)];
  const perMl = n !== undefined && ml !== undefined && n > 0 && ml > 0 ? n / ml : undefined;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (perMl === undefined)
      return setError(
        way === 'count' ? 'Give the drops, and the mL they made.' : 'Give the drops, and the grams they weighed.',
      );
    setBusy(true);
    const id = newId();
    const dropsPerMl = Number(perMl.toFixed(2));
    try {
      await put(
        {
          id,
          url: `/api/shelf/droppers/${toolId}/counts/${id}`,
          body: { dropsPerMl },
          words: `${tool.values.name} counted`,
        },
        { toast: `${tool.values.name}: ${dropsPerMl} drops to the mL` },
      );
      onClose();
    } catch (caught) {
      if (!(caught instanceof ProblemError)) throw caught;
      setError(caught.problem.errors?.[0]?.message ?? caught.problem.detail);
    } finally {
      setBusy(false);
    }
  };
  return (
    <FormModal
      title={`Count the drops of ${tool.values.name}`}
      keep="Use the count"
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={onClose}
      wrong={error}
    >
      <Form.Check
        type="radio"
        id="way-count"
        name="way"
        label="Into a syringe: count drops until a mark is reached"
        checked={way === 'count'}
        onChange={() => (setWay('count'), setAmount('1'))}
      />
      <Form.Check
        type="radio"
        id="way-weigh"
        name="way"
        label="On a scale: weigh counted drops of water (1 g is 1 mL)"
        checked={way === 'weigh'}
        onChange={() => (setWay('weigh'), setAmount(''))}
      />
      <div className="pair">
        <LabelledField label="Drops" error={undefined}>
          {(a) => (
            <Form.Control
              {...a}
              autoFocus
              inputMode="numeric"
              autoComplete="off"
              value={drops}
              onChange={(e) => setDrops(e.target.value)}
            />
          )}
        </LabelledField>
        <LabelledField label={way === 'count' ? 'made, mL' : 'weighed, g'} error={undefined}>
          {(a) => (
            <Form.Control
              {...a}
              inputMode="decimal"
              autoComplete="off"
              value={amount}
              onChange={(e) => setAmount(e.target.value)}
            />
          )}
        </LabelledField>
      </div>
      <p className="small mb-0" role="status">
        {perMl === undefined
          ? 'Hold it upright and let the drops fall by themselves. More drops make it surer.'
          : `${perMl.toFixed(1)} drops to the mL.`}
      </p>
    </FormModal>
  );
}

const STANDS = [
  ['24', '24 hours open', 24 * 60],
  ['48', '48 hours open, as some hold it', 48 * 60],
  ['air', 'with an air stone, about 2 hours', 2 * 60],
] as const;

/** A can standing open until its chlorine is gone: a clock of that water. */
export function StandWater({ room, waterId, onClose }: { room: ShelfRoom; waterId: string; onClose(): void }) {
  const water = room.waters.find((w) => w.id === waterId)!;
  const [how, setHow] = useState<(typeof STANDS)[number][0]>('24');
  const { send, problems, busy } = useAct('/api/shell/plans/acts');
  const [, words, minutes] = STANDS.find(([key]) => key === how)!;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const body: PlanAct = {
      kind: 'startClock',
      clockId: newId(),
      subjectKind: 'water',
      subjectId: waterId,
      words: `Standing, ${words.split(',')[0]}`,
      minutes,
      origin: 'shelf',
    };
    if (await send(body, `${water.values.name} stands`)) onClose();
  };
  return (
    <FormModal
      title={`Let ${water.values.name} stand`}
      keep="Start its clock"
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={onClose}
      wrong={otherProblems(problems, [])}
    >
      {STANDS.map(([key, label]) => (
        <Form.Check
          key={key}
          type="radio"
          id={`stand-${key}`}
          name="stand"
          label={label}
          checked={how === key}
          onChange={() => setHow(key)}
        />
      ))}
      <p className="small mb-0">
        Chlorine leaves; chloramine, minerals and fluoride do not. Cover it with a cloth, out of reach of children and
        pets.
      </p>
    </FormModal>
  );
}
