import { useMemo, useState } from 'react';
import Form from 'react-bootstrap/Form';
import type { ShelfRoom } from '../../contract/shelf.ts';
import { DKH_PER_MEQ, doseToPh, solve, type ReadLabel } from '../../core/solution/index.ts';
import { inSentence, ppmFromEc } from '../../core/quantity/index.ts';
import { CautionFigure } from '../drawing/shelf-things.tsx';
import { doseMl, phText, ppmText } from '../shell/format.ts';
import { readNumber } from '../shell/field-reader.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { firstWater, waterOf, type RoomProduct, type RoomTool } from './chemistry.ts';
import { mgText } from './label-fields.tsx';

/** How much of an acid or alkali brings a water to a pH, what else it brings, and where the pH goes when the water stands open. */
export function AcidCard({ room, product, label }: { room: ShelfRoom; product: RoomProduct; label: ReadLabel }) {
  const waters = room.waters.filter((w) => w.retiredOn === null && waterOf(w, room.scale)?.ok);
  const [waterId, setWaterId] = useState(
    () => (waters.find((w) => w.values.kind === 'tap') ?? firstWater(room))?.id ?? '',
  );
  const [target, setTarget] = useState(product.values.kind === 'acid' ? '5.8' : '6.0');
  const [volume, setVolume] = useState('5');
  const [hold, setHold] = useState<'stirred' | 'standing'>('stirred');
  const direction = product.values.kind === 'acid' ? 'down' : 'up';
  const ph = readNumber(target);
  const volumeL = readNumber(volume);
  const water = waters.find((w) => w.id === waterId);
  const answer = useMemo(() => {
    const known = water && waterOf(water, room.scale);
    if (!known?.ok || !(ph !== undefined && ph >= 3 && ph <= 10)) return undefined;
    const before = solve(known.composition);
    return { known, before, dose: doseToPh(known.composition, label.perUnit, ph, direction, hold) };
  }, [water, room.scale, label, ph, direction, hold]);
  const dropper = room.tools.find(
    (t) => t.retiredOn === null && t.values.kind === 'dropper' && t.values.dropsPerMl !== null,
  );
  if (waters.length === 0) return <p className="small mb-0">Read a water first, and its pH can be worked out here.</p>;
  const dose = answer?.dose;
  const ml = dose?.ok && volumeL !== undefined && volumeL > 0 ? dose.mlPerL * volumeL : undefined;
  return (
    <section className="acid-card" aria-label={`How much ${product.values.name}`}>
      <h3>How much, and what becomes of it</h3>
      <div className="pair three">
        <LabelledField label="Water" error={undefined}>
          {(a) => (
            <Form.Select {...a} size="sm" value={waterId} onChange={(e) => setWaterId(e.target.value)}>
              {waters.map((w) => (
                <option key={w.id} value={w.id}>
                  {w.values.name}
                </option>
              ))}
            </Form.Select>
          )}
        </LabelledField>
        <LabelledField label="Litres" error={volumeL !== undefined && volumeL > 0 ? undefined : 'Give litres.'}>
          {(a) => (
            <Form.Control
              {...a}
              size="sm"
              inputMode="decimal"
              value={volume}
              onChange={(e) => setVolume(e.target.value)}
            />
          )}
        </LabelledField>
        <LabelledField label="to pH" error={answer || !water ? undefined : 'Give a pH from 3 to 10.'}>
          {(a) => (
            <Form.Control
              {...a}
              size="sm"
              inputMode="decimal"
              value={target}
              onChange={(e) => setTarget(e.target.value)}
            />
          )}
        </LabelledField>
      </div>
      <Form.Select
        size="sm"
        aria-label="Hold it"
        value={hold}
        onChange={(e) => setHold(e.target.value as 'stirred' | 'standing')}
      >
        <option value="stirred">that pH now, just stirred</option>
        <option value="standing">that pH once it is at rest with the air</option>
      </Form.Select>
      {dose && !dose.ok && (
        <p className="chip soon wrap mb-0" role="status">
          {dose.message}
        </p>
      )}
      <Answer
        answer={answer}
        dose={dose}
        ml={ml}
        dropper={dropper}
        room={room}
        hold={hold}
        target={target}
        product={product}
      />
      <p className="caution-line mb-0">
        <CautionFigure /> {product.values.caution}
      </p>
    </section>
  );
}

function Answer({
  answer,
  dose,
  ml,
  dropper,
  room,
  hold,
  target,
  product,
}: {
  answer: Worked | undefined;
  dose: Worked['dose'] | undefined;
  ml: number | undefined;
  dropper: RoomTool | undefined;
  room: ShelfRoom;
  hold: 'stirred' | 'standing';
  target: string;
  product: RoomProduct;
}) {
  if (!(answer?.before.ok && dose?.ok && ml !== undefined)) return null;
  return (
    <div className="acid-answer" role="status">
      <div>
        <b className="big num">{ml === 0 ? 'None' : doseMl(ml)}</b>
        {ml > 0 && dropper && (
          <span className="small">
            {' '}
            about {Math.max(1, Math.round(ml * dropper.values.dropsPerMl!))} drops of the{' '}
            {inSentence(dropper.values.name)}
          </span>
        )}
      </div>
      <table className="facts">
        <tbody>
          <tr>
            <th scope="row">pH</th>
            <td className="num">
              {phText(answer.before.ph)} → <b>{phText(dose.stirred.ph)}</b>
            </td>
            <td>
              standing open <b className="num">{phText(dose.standing.ph)}</b>
            </td>
          </tr>
          <tr>
            <th scope="row">reads</th>
            <td className="num">
              {ppmText(ppmFromEc(answer.before.ecUsCm, room.scale))} →{' '}
              <b>{ppmText(ppmFromEc(dose.stirred.ecUsCm, room.scale))}</b>
            </td>
            <td>
              alkalinity <b className="num">{degrees(dose.stirred.alkalinityMeqL)}</b> °dKH left
            </td>
          </tr>
          <tr>
            <th scope="row">brings</th>
            <td colSpan={2}>{bringsWords(dose.brings) || 'nothing that feeds'}</td>
          </tr>
        </tbody>
      </table>
      <Mind known={answer.known} dose={dose} hold={hold} target={target} product={product} />
    </div>
  );
}

/** What to mind: it climbs again, it is eaten, or the water was never tested. */
function Mind({
  known,
  dose,
  hold,
  target,
  product,
}: {
  known: Worked['known'];
  dose: Extract<Worked['dose'], { ok: true }>;
  hold: 'stirred' | 'standing';
  target: string;
  product: RoomProduct;
}) {
  const { citric, acetic } = product.values.analysis?.percent ?? {};
  return (
    <>
      {hold === 'stirred' && dose.standing.ph - dose.stirred.ph > 0.5 && (
        <p className="small mb-0">
          It climbs by itself as CO₂ leaves. To hold pH {target} in this water its whole alkalinity must be spent:
          choose it at rest with the air above.
        </p>
      )}
      {citric || acetic ? (
        <p className="small mb-0">An organic acid is eaten by microbes in days: then the pH climbs back further.</p>
      ) : null}
      {known.how === 'reading' && (
        <p className="small mb-0">
          Nobody tested this water’s alkalinity: the dose may be off by{' '}
          {Math.round((100 * known.alkalinitySd) / Math.max(0.05, dose.stirred.alkalinityMeqL + known.alkalinitySd))} %
          or more. Start with half.
        </p>
      )}
    </>
  );
}

type Worked = {
  known: Extract<NonNullable<ReturnType<typeof waterOf>>, { ok: true }>;
  before: ReturnType<typeof solve>;
  dose: ReturnType<typeof doseToPh>;
};

/** °dKH to a tenth, never "-0.0". */
const degrees = (meqL: number) => (Number((meqL * DKH_PER_MEQ).toFixed(1)) || 0).toFixed(1);

const SAID = [
  ['N', 'nitrogen'],
  ['P', 'phosphorus'],
  ['K', 'potassium'],
  ['Na', 'sodium'],
  ['Si', 'silicon'],
] as const;
function bringsWords(elements: ReadLabel['elements']): string {
  return SAID.filter(([e]) => elements[e] >= 0.05)
    .map(([e, words]) => `${mgText(elements[e])} mg/L ${words}`)
    .join(', ');
}
