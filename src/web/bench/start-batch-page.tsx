import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { useForm } from 'react-hook-form';
import { useNavigate, useSearchParams } from 'react-router';
import type { BatchView, StartBatch } from '../../contract/bench.ts';
import type { RoundView } from '../../contract/round.ts';
import type { ShelfView } from '../../contract/shelf.ts';
import { roundQuery } from '../round/index.ts';
import { useActs } from '../shell/acts.tsx';
import { get, newId, ProblemError } from '../shell/api.ts';
import { inLargeUnit, largeSign, readLarge, litres, ppmText } from '../shell/format.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { LabelledField } from '../shell/labelled-field.tsx';
import { firstValues, keptDraft, phError, phWindow, tooSmall, type Fields } from './start-values.ts';

/** Starts a batch, from the round (filled in already) or freely. */
export function StartBatchPage() {
  const [params] = useSearchParams();
  const mixKey = params.get('mix');
  const shelf = useQuery({ queryKey: ['shelf'], queryFn: () => get<ShelfView>('/api/shelf') });
  const round = useQuery(roundQuery);
  if (shelf.isPending || round.isPending) return <Loading what="the shelf" />;
  if (!shelf.data || !round.data) return <Failed error={shelf.error ?? round.error} retry={() => (void shelf.refetch(), void round.refetch())} />;
  const feeds = shelf.data.bottles.filter((b) => b.kind === 'feed');
  if (feeds.length === 0 || shelf.data.waters.length === 0) {
    return (
      <Empty title="Nothing to mix with yet">
        <p className="mb-0">A batch needs a water, a feed, a pen and something to measure with. They come with the shelf.</p>
      </Empty>
    );
  }
  return <StartForm key={mixKey} shelf={shelf.data} round={round.data} mixKey={mixKey} />;
}

function StartForm({ shelf, round, mixKey }: { shelf: ShelfView; round: RoundView; mixKey: string | null }) {
  const { put } = useActs();
  const navigate = useNavigate();
  const mix = round.mixes.find((m) => m.key === mixKey);
  const draftKey = `bench-start:${mixKey ?? 'free'}:${round.today}`;
  const form = useForm<Fields>({ defaultValues: { ...firstValues(shelf, mix), ...keptDraft(draftKey) } });
  const { register, handleSubmit, formState, setError, watch } = form;
  const { errors, isSubmitting } = formState;
  useEffect(() => {
    const subscription = watch((values) => sessionStorage.setItem(draftKey, JSON.stringify(values)));
    return () => subscription.unsubscribe();
  }, [watch, draftKey]);
  const water = shelf.waters.find((w) => w.id === watch('waterId'));
  const vessel = shelf.vessels.find((v) => v.id === watch('vesselId'));
  const dropper = shelf.tools.find((t) => t.kind === 'dropper' && watch('toolIds').includes(t.id) && t.dropsPerMl === null);
  const asNumber = (text: string) => Number(text.trim().replace(',', '.'));
  const asLitres = (text: string) => {
    const typed = readLarge(text);
    return typed.kind === 'volume' ? typed.ml / 1000 : NaN;
  };
  const number = (message: string, low: number, high: number, beyond: string) => ({
    validate: (text: string) => {
      const value = asNumber(text);
      if (text.trim() === '' || !Number.isFinite(value) || !(value >= low)) return message;
      return value <= high || beyond;
    },
  });

  const submit = async (fields: Fields) => {
    const id = newId();
    const body: StartBatch = {
      mixKey: mix ? mixKey : null,
      name: fields.name.trim(),
      waterId: fields.waterId,
      vesselId: fields.vesselId,
      bottleId: fields.bottleId,
      ppmMeterId: fields.ppmMeterId,
      phMeterId: fields.phMeterId || null,
      toolIds: fields.toolIds,
      volumeL: asLitres(fields.litres),
      netPpm: asNumber(fields.netPpm),
      phLow: asNumber(fields.phLow),
      phHigh: asNumber(fields.phHigh),
    };
    try {
      const sent = await put<BatchView>({ id, url: `/api/bench/batches/${id}`, body, words: `${body.name} started` });
      sessionStorage.removeItem(draftKey);
      await navigate(sent.kind === 'done' ? `/bench/${id}` : '/bench');
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      const field =
        ({ vesselId: 'vesselId', volumeL: 'litres', netPpm: 'netPpm', toolIds: 'toolIds', bottleId: 'bottleId', phLow: 'phLow', name: 'name' } as const)[
          error.problem.errors?.[0]?.path ?? ''
        ] ?? 'root';
      setError(field, { message: error.problem.detail });
    }
  };

  return (
    <div className="page start-batch">
      <header>
        <div>
          <h1>{mix ? `Mix ${mix.letter} for ${mix.potsLeft} pot${mix.potsLeft === 1 ? '' : 's'}` : 'A batch of your own'}</h1>
          <div className="small">{mix ? `${litres(mix.litresToMix)} covers the fills with some spare` : 'For anything that is not on today’s round'}</div>
        </div>
      </header>
      <Form className="sheet start-form" noValidate onSubmit={(e) => void handleSubmit(submit)(e)}>
        <LabelledField label="Name" error={errors.name?.message} wide>
          {(a) => <Form.Control {...a} {...register('name', { validate: (v) => v.trim() !== '' || 'Give the batch a name.' })} maxLength={80} />}
        </LabelledField>
        <LabelledField
          label="Water"
          error={errors.waterId?.message}
          hint={water ? `${water.note}${water.lastBasePpm === null ? '; never read' : `; last read ${ppmText(water.lastBasePpm)} ppm`}` : undefined}
        >
          {(a) => (
            <Form.Select {...a} {...register('waterId')}>
              {shelf.waters.map((w) => (
                <option key={w.id} value={w.id}>
                  {w.name}
                </option>
              ))}
            </Form.Select>
          )}
        </LabelledField>
        <LabelledField label={`How much, ${largeSign()}`} error={errors.litres?.message}>
          {(a) => (
            <Form.Control
              {...a}
              inputMode="decimal"
              {...register('litres', {
                validate: (text: string) => {
                  const litresTyped = asLitres(text);
                  if (!(litresTyped >= 0.05))
                    return `An empty batch needs no mixing. Give the ${largeSign() === 'L' ? 'litres' : 'gallons'}, such as ${inLargeUnit(2600)}.`;
                  return litresTyped <= 1000 || 'More than 1,000 L? Check the figure.';
                },
              })}
            />
          )}
        </LabelledField>
        <LabelledField label="Mix it in" error={errors.vesselId?.message} hint={vessel ? `${vessel.material}, holds ${litres(vessel.capacityL)}` : undefined}>
          {(a) => (
            <Form.Select {...a} {...register('vesselId', { validate: (id, f) => tooSmall(shelf, id, asLitres(f.litres)) })}>
              {shelf.vessels.map((v) => (
                <option key={v.id} value={v.id}>
                  {v.name}, {litres(v.capacityL)}
                </option>
              ))}
            </Form.Select>
          )}
        </LabelledField>
        <LabelledField label="Aim over base, ppm" error={errors.netPpm?.message} hint="counted over what the plain water reads">
          {(a) => (
            <Form.Control
              {...a}
              inputMode="decimal"
              {...register(
                'netPpm',
                number(
                  'The aim is counted over the water. Give more than zero, such as 90.',
                  1,
                  5000,
                  'Past 5,000 ppm over base nothing here can live. Check the figure.',
                ),
              )}
            />
          )}
        </LabelledField>
        <LabelledField label="Feed" error={errors.bottleId?.message} span>
          {(a) => (
            <Form.Select {...a} {...register('bottleId')}>
              {shelf.bottles
                .filter((b) => b.kind === 'feed')
                .map((b) => (
                  <option key={b.id} value={b.id}>
                    {b.name}
                    {b.note ? ` (${b.note})` : ''}
                  </option>
                ))}
            </Form.Select>
          )}
        </LabelledField>
        <fieldset className="wide">
          <legend>Measure with</legend>
          <div className="d-flex flex-wrap gap-3">
            {shelf.tools.map((t) => (
              <Form.Check
                key={t.id}
                type="checkbox"
                id={`tool-${t.id}`}
                value={t.id}
                label={`${t.name}${t.kind === 'dropper' ? (t.dropsPerMl === null ? ', not counted yet' : `, ${t.dropsPerMl} drops/mL`) : ''}`}
                {...register('toolIds', { validate: (v) => v.length > 0 || 'Choose a dropper or a syringe.' })}
              />
            ))}
          </div>
          {errors.toolIds && (
            <div className="field-error" role="alert">
              {errors.toolIds.message}
            </div>
          )}
          {dropper && (
            <div className="small mt-1">
              Nobody has counted the {dropper.name.toLowerCase()} yet: 20 drops to the mL is a guess, and every dose by it is rough. The bench asks for a count.
            </div>
          )}
        </fieldset>
        <LabelledField label="TDS pen" error={errors.ppmMeterId?.message}>
          {(a) => (
            <Form.Select {...a} {...register('ppmMeterId')}>
              {shelf.meters
                .filter((m) => m.quantity === 'ppm')
                .map((m) => (
                  <option key={m.id} value={m.id}>
                    {m.name}
                    {m.simulated ? ' (simulated)' : ''}
                  </option>
                ))}
            </Form.Select>
          )}
        </LabelledField>
        <LabelledField label="pH pen" error={errors.phMeterId?.message}>
          {(a) => (
            <Form.Select {...a} {...register('phMeterId')}>
              {shelf.meters
                .filter((m) => m.quantity === 'pH')
                .map((m) => (
                  <option key={m.id} value={m.id}>
                    {m.name}
                    {m.simulated ? ' (simulated)' : ''}
                  </option>
                ))}
              <option value="">none: do not read pH</option>
            </Form.Select>
          )}
        </LabelledField>
        <div className="two">
          <LabelledField label="pH from" error={phError(errors)}>
            {(a) => <Form.Control {...a} inputMode="decimal" {...register('phLow', { validate: (v, f) => phWindow(asNumber(v), asNumber(f.phHigh)) })} />}
          </LabelledField>
          <LabelledField label="pH to" error={undefined}>
            {(a) => <Form.Control {...a} inputMode="decimal" {...register('phHigh')} />}
          </LabelledField>
        </div>
        <div className="wide d-flex gap-2 align-items-center">
          <Button type="submit" size="lg" disabled={isSubmitting}>
            Read the water next
          </Button>
          {errors.root && (
            <span className="field-error" role="alert">
              {errors.root.message}
            </span>
          )}
        </div>
      </Form>
    </div>
  );
}
