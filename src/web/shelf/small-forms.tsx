import { useState, type FormEvent } from 'react';
import Form from 'react-bootstrap/Form';
import type { ShelfRoom } from '../../contract/shelf.ts';
import { NOT_MEASURED, parseReading } from '../../core/quantity/index.ts';
import { newId } from '../shell/api.ts';
import { largeSign, readLarge } from '../shell/format.ts';
import { typedNumber } from '../shell/field-reader.ts';
import { FormModal } from '../shell/form-modal.tsx';
import { LabelledField } from '../shell/labelled-field.tsx';
import { otherProblems, problemAt, useAct } from '../shell/use-act.ts';

/** Reads a water by itself: ppm, pH or both. */
export function ReadWater({ room, waterId, onClose }: { room: ShelfRoom; waterId: string; onClose(): void }) {
  const water = room.waters.find((w) => w.id === waterId)!;
  const [ppm, setPpm] = useState('');
  const [ph, setPh] = useState('');
  const { send, problems, setProblems, busy } = useAct('/api/shelf/acts');
  const meters = (quantity: 'ppm' | 'pH') =>
    room.meters.filter((m) => m.retiredOn === null && m.values.quantity === quantity);
  const [ppmMeterId, setPpmMeter] = useState(room.mainPpmMeterId ?? meters('ppm')[0]?.id ?? null);
  const [phMeterId, setPhMeter] = useState(room.mainPhMeterId ?? meters('pH')[0]?.id ?? null);
  const [warm, setWarm] = useState('');
  const ppmMeter = room.meters.find((m) => m.id === ppmMeterId)?.values;
  const unit = ppmMeter?.unit ?? 'ppm';
  const cold = ppmMeter !== undefined && !ppmMeter.compensated;
  const which = (quantity: 'ppm' | 'pH', value: string | null, set: (id: string) => void) =>
    meters(quantity).length > 1 && (
      <Form.Select
        size="sm"
        aria-label={`${quantity === 'pH' ? 'pH' : 'Strength'} read with`}
        value={value ?? ''}
        onChange={(e) => set(e.target.value)}
      >
        {meters(quantity).map((m) => (
          <option key={m.id} value={m.id}>
            {m.values.name}
          </option>
        ))}
      </Form.Select>
    );
  const last = water.readings[0];
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const [strength, acidity] = [parseReading(ppm, 'ppm'), parseReading(ph, 'pH')];
    if (!strength.ok || !acidity.ok) {
      setProblems({
        ...(strength.ok ? {} : { ppm: strength.message }),
        ...(acidity.ok ? {} : { ph: acidity.message }),
      });
      return;
    }
    const body = {
      kind: 'readWater',
      waterId,
      ppm: strength.reading ?? NOT_MEASURED,
      ph: acidity.reading ?? NOT_MEASURED,
      ppmMeterId,
      phMeterId,
      ...(cold ? { temperatureC: typedNumber(warm) } : {}),
    };
    if (await send(body, `Read ${water.values.name}`)) onClose();
  };
  return (
    <FormModal
      title={`Read ${water.values.name}`}
      onClose={onClose}
      submit={(e) => void submit(e)}
      keep="Keep the reading"
      busy={busy}
    >
      <p className="small mb-0">
        Rinse the pen, dip, stir, wait until it stands still. A drop kit’s answer may be a range, such as 7.5-7.75.
        Empty is not measured.
      </p>
      <div className="pair">
        <LabelledField label={unit} error={problemAt(problems, 'ppm')}>
          {(a) => (
            <Form.Control
              {...a}
              autoFocus
              inputMode="decimal"
              autoComplete="off"
              placeholder={last?.ppm == null || unit !== 'ppm' ? '' : `expect ${Math.round(last.ppm)}`}
              value={ppm}
              onChange={(e) => setPpm(e.target.value)}
            />
          )}
        </LabelledField>
        <LabelledField label="pH" error={problemAt(problems, 'ph')}>
          {(a) => (
            <Form.Control
              {...a}
              inputMode="decimal"
              autoComplete="off"
              value={ph}
              onChange={(e) => setPh(e.target.value)}
            />
          )}
        </LabelledField>
        {cold && (
          <LabelledField
            label="Sample, °C"
            error={problemAt(problems, 'temperatureC')}
            hint="this pen does not compensate"
          >
            {(a) => (
              <Form.Control
                {...a}
                inputMode="decimal"
                autoComplete="off"
                value={warm}
                onChange={(e) => setWarm(e.target.value)}
              />
            )}
          </LabelledField>
        )}
        {which('ppm', ppmMeterId, setPpmMeter)}
        {which('pH', phMeterId, setPhMeter)}
      </div>
    </FormModal>
  );
}

/** What stands in the tank, looked at. */
export function CountWater({ room, waterId, onClose }: { room: ShelfRoom; waterId: string; onClose(): void }) {
  const water = room.waters.find((w) => w.id === waterId)!;
  const [text, setText] = useState('');
  const { send, problems, setProblems, busy } = useAct('/api/shelf/acts');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const read = readLarge(text);
    if (read.kind !== 'volume') {
      setProblems({ litres: read.kind === 'unclear' ? read.message : 'Give what stands in the tank, such as 14.' });
      return;
    }
    if (
      await send(
        { kind: 'countWater', waterId, litres: read.ml / 1000 },
        `Looked into the tank of ${water.values.name}`,
      )
    )
      onClose();
  };
  return (
    <FormModal
      title={`The tank of ${water.values.name}`}
      onClose={onClose}
      submit={(e) => void submit(e)}
      keep="Keep it"
      busy={busy}
    >
      <LabelledField
        label={`In it now, ${largeSign()}`}
        error={problemAt(problems, 'litres')}
        hint="From here on what is made a day and what you mix is counted."
      >
        {(a) => (
          <Form.Control
            {...a}
            autoFocus
            inputMode="decimal"
            autoComplete="off"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        )}
      </LabelledField>
    </FormModal>
  );
}

/** A new bottle of a product: the coach starts wide again, since bottles differ. */
export function OpenBottle({ room, productId, onClose }: { room: ShelfRoom; productId: string; onClose(): void }) {
  const product = room.products.find((p) => p.id === productId)!;
  const [note, setNote] = useState('');
  const [size, setSize] = useState(product.bottle?.sizeMl ? String(product.bottle.sizeMl) : '');
  const [price, setPrice] = useState(product.bottle?.price ? String(product.bottle.price) : '');
  const { send, problems, busy } = useAct('/api/shelf/acts');
  const unit = product.values.analysis?.form === 'powder' ? 'g' : 'mL';
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (
      await send(
        {
          kind: 'openBottle',
          productId,
          bottleId: newId(),
          note,
          sizeMl: typedNumber(size),
          price: typedNumber(price),
        },
        `Opened a new bottle of ${product.values.name}`,
      )
    )
      onClose();
  };
  return (
    <FormModal
      title={`A new bottle of ${product.values.name}`}
      onClose={onClose}
      submit={(e) => void submit(e)}
      keep="Open it"
      busy={busy}
    >
      <p className="small mb-0">
        The one in use is finished. Bottles and home-made stocks differ, so the coach starts with a wider guess and
        learns this one.
      </p>
      <div className="pair">
        <LabelledField
          label={`Holds, ${unit}`}
          error={problemAt(problems, 'sizeMl')}
          hint="empty: what is left is not told"
        >
          {(a) => (
            <Form.Control
              {...a}
              autoFocus
              inputMode="decimal"
              autoComplete="off"
              value={size}
              onChange={(e) => setSize(e.target.value)}
            />
          )}
        </LabelledField>
        <LabelledField label="Cost" error={problemAt(problems, 'price')}>
          {(a) => (
            <Form.Control
              {...a}
              inputMode="decimal"
              autoComplete="off"
              value={price}
              onChange={(e) => setPrice(e.target.value)}
            />
          )}
        </LabelledField>
      </div>
      <LabelledField
        label="Note"
        error={problemAt(problems, 'note') ?? otherProblems(problems, ['note', 'sizeMl', 'price'])}
      >
        {(a) => (
          <Form.Control
            {...a}
            placeholder="thinned 1 + 1, shop, price"
            value={note}
            onChange={(e) => setNote(e.target.value)}
          />
        )}
      </LabelledField>
    </FormModal>
  );
}
