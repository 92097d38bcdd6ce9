import { useQuery } from '@tanstack/react-query';
import { useEffect, useId, type ReactNode } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { useForm, type FieldErrors } from 'react-hook-form';
import { useNavigate, useSearchParams } from 'react-router';
import type { BatchView, StartBatch } from '../../contract/bench.ts';
import type { RoundView } from '../../contract/round.ts';
import type { ShelfView } from '../../contract/shelf.ts';
import { roundQuery } from '../round/index.ts';
import { useActs } from '../shell/acts.tsx';
import { get, newId, ProblemError } from '../shell/api.ts';
import { litres, ppmText } from '../shell/format.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';

type Fields = {
  name: string;
  waterId: string;
  vesselId: string;
  bottleId: string;
  ppmMeterId: string;
  phMeterId: string;
  toolIds: string[];
  litres: string;
  netPpm: string;
  phLow: string;
  phHigh: string;
};

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
      volumeL: asNumber(fields.litres),
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
        <Field label="Name" error={errors.name?.message} wide>
          {(a) => <Form.Control {...a} {...register('name', { validate: (v) => v.trim() !== '' || 'Give the batch a name.' })} maxLength={80} />}
        </Field>
        <Field
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
        </Field>
        <Field label="How much, L" error={errors.litres?.message}>
          {(a) => (
            <Form.Control
              {...a}
              inputMode="decimal"
              {...register(
                'litres',
                number('An empty batch needs no mixing. Give the litres, such as 2.6.', 0.05, 1000, 'More than 1,000 L? Check the figure.'),
              )}
            />
          )}
        </Field>
        <Field label="Mix it in" error={errors.vesselId?.message} hint={vessel ? `${vessel.material}, holds ${litres(vessel.capacityL)}` : undefined}>
          {(a) => (
            <Form.Select {...a} {...register('vesselId', { validate: (id, f) => tooSmall(shelf, id, asNumber(f.litres)) })}>
              {shelf.vessels.map((v) => (
                <option key={v.id} value={v.id}>
                  {v.name}, {litres(v.capacityL)}
                </option>
              ))}
            </Form.Select>
          )}
        </Field>
        <Field label="Aim over base, ppm" error={errors.netPpm?.message} hint="counted over what the plain water reads">
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
        </Field>
        <Field label="Feed" error={errors.bottleId?.message} span>
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
        </Field>
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
        <Field label="TDS pen" error={errors.ppmMeterId?.message}>
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
        </Field>
        <Field label="pH pen" error={errors.phMeterId?.message}>
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
        </Field>
        <div className="two">
          <Field label="pH from" error={phError(errors)}>
            {(a) => <Form.Control {...a} inputMode="decimal" {...register('phLow', { validate: (v, f) => phWindow(asNumber(v), asNumber(f.phHigh)) })} />}
          </Field>
          <Field label="pH to" error={undefined}>
            {(a) => <Form.Control {...a} inputMode="decimal" {...register('phHigh')} />}
          </Field>
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

function Field({
  label,
  hint,
  error,
  wide = false,
  span = false,
  children,
}: {
  label: string;
  span?: boolean;
  hint?: string | undefined;
  error: string | undefined;
  wide?: boolean;
  children(props: { id: string; 'aria-invalid': boolean; 'aria-describedby': string | undefined; isInvalid: boolean }): ReactNode;
}) {
  const id = useId();
  return (
    <Form.Group className={wide ? 'wide' : span ? 'span-2' : ''}>
      <Form.Label htmlFor={id}>{label}</Form.Label>
      {children({ id, 'aria-invalid': Boolean(error), 'aria-describedby': error ? `${id}-error` : undefined, isInvalid: Boolean(error) })}
      {error ? (
        <div className="field-error" id={`${id}-error`} role="alert">
          {error}
        </div>
      ) : (
        hint && <div className="small">{hint}</div>
      )}
    </Form.Group>
  );
}

function firstValues(shelf: ShelfView, mix: RoundView['mixes'][number] | undefined): Fields {
  const litresWanted = mix?.litresToMix ?? 2;
  const fitting = [...shelf.vessels].sort((a, b) => a.capacityL - b.capacityL).find((v) => v.capacityL >= litresWanted * 1.25) ?? shelf.vessels[0];
  return {
    name: mix ? mix.name : 'Feed',
    waterId: shelf.waters[0]?.id ?? '',
    vesselId: fitting?.id ?? '',
    bottleId: shelf.bottles.find((b) => b.kind === 'feed')?.id ?? '',
    ppmMeterId: shelf.meters.find((m) => m.quantity === 'ppm')?.id ?? '',
    phMeterId: shelf.meters.find((m) => m.quantity === 'pH')?.id ?? '',
    toolIds: shelf.tools.filter((t) => t.kind === 'syringe' || t.dropsPerMl !== null).map((t) => t.id),
    litres: String(litresWanted),
    netPpm: mix ? ppmText(mix.netPpm) : '90',
    phLow: String(mix?.phLow ?? 5.5),
    phHigh: String(mix?.phHigh ?? 6.5),
  };
}

function keptDraft(key: string): Partial<Fields> {
  const kept = sessionStorage.getItem(key);
  return kept ? (JSON.parse(kept) as Partial<Fields>) : {};
}

function tooSmall(shelf: ShelfView, vesselId: string, volumeL: number): true | string {
  const vessel = shelf.vessels.find((v) => v.id === vesselId);
  if (!vessel) return 'Choose what to mix in.';
  return (
    !(volumeL > vessel.capacityL) ||
    `The ${vessel.name.toLowerCase()} holds ${vessel.capacityL} L, and this is ${volumeL} L. Take a larger vessel or make two batches.`
  );
}

function phWindow(low: number, high: number): true | string {
  if (![low, high].every((ph) => ph >= 3 && ph <= 9)) return 'Give a pH between 3 and 9, such as 5.5 to 6.5.';
  return low <= high || 'The lower pH is above the upper. Swap them.';
}

function phError(errors: FieldErrors<Fields>): string | undefined {
  return errors.phLow?.message ?? errors.phHigh?.message;
}
