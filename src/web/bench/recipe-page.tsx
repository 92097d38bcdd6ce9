import { useQuery } from '@tanstack/react-query';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { useForm } from 'react-hook-form';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { BatchView } from '../../contract/bench.ts';
import { USE_WORDS, type RecipeBook, type RecipeValues, type Use } from '../../contract/recipes.ts';
import type { ShelfView } from '../../contract/shelf.ts';
import { USES } from '../../core/strength/index.ts';
import { get, newId } from '../shell/api.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { Failed, Loading } from '../shell/states.tsx';
import { otherProblems, problemAt, useAct } from '../shell/use-act.ts';
import { AimsSolver } from './aims-solver.tsx';
import { PartsFields } from './part-fields.tsx';
import { recipesQuery } from './recipes-query.ts';
import { asNumber, firstValues, phError, phWindow, toAim, withRecipe, withUse, type Fields } from './start-values.ts';

/** A recipe of one's own: new, from a batch that came out right, or changed. */
export function RecipePage() {
  const { recipeId = 'new' } = useParams();
  const [params] = useSearchParams();
  const batchId = params.get('batch');
  const shelf = useQuery({ queryKey: ['shelf'], queryFn: () => get<ShelfView>('/api/shelf') });
  const book = useQuery(recipesQuery);
  const batch = useQuery({
    queryKey: ['batch', batchId],
    queryFn: () => get<BatchView>(`/api/bench/batches/${batchId}`),
    enabled: batchId !== null,
  });
  if (shelf.isPending || book.isPending || batch.isLoading) return <Loading what="the recipe" />;
  if (!shelf.data || !book.data)
    return <Failed error={shelf.error ?? book.error} retry={() => (void shelf.refetch(), void book.refetch())} />;
  const known = book.data.recipes.find((r) => r.id === recipeId);
  if (recipeId !== 'new' && !known)
    return <Failed error={new Error('There is no such recipe.')} retry={() => void book.refetch()} />;
  return (
    <RecipeForm
      key={recipeId}
      id={known?.id}
      values={known?.values ?? (batch.data && fromBatch(batch.data))}
      shelf={shelf.data}
      book={book.data}
    />
  );
}

/** What a batch was made by, as a recipe. */
function fromBatch(view: BatchView): RecipeValues {
  return {
    name: view.name,
    use: view.use,
    parts: view.parts.map((part) => ({
      productId: part.productId,
      aim: part.aim
        ? { kind: 'net', ppm: Math.round(part.aim.netPpm) }
        : { kind: 'perL', units: Number(((part.doseUnits ?? 0) / view.volumeL).toFixed(3)) },
      solid: part.method === 'granules' ? 'granules' : 'stock',
    })),
    waterId: view.water.id,
    phLow: view.phWindow.low,
    phHigh: view.phWindow.high,
    holdMinutes: view.holdMinutes,
    note: '',
  };
}

/** The form as a recipe. */
function recipeOf(f: Fields & { note: string }): RecipeValues {
  return {
    name: f.name,
    use: f.use,
    parts: f.parts.map((part) => ({
      productId: part.productId,
      aim: toAim(part),
      solid: part.solid === 'granules' ? 'granules' : 'stock',
    })),
    waterId: f.waterId || null,
    phLow: asNumber(f.phLow),
    phHigh: asNumber(f.phHigh),
    holdMinutes: f.hold.trim() === '' ? null : asNumber(f.hold),
    note: f.note,
  };
}

type Props = { id: string | undefined; values: RecipeValues | undefined; shelf: ShelfView; book: RecipeBook };

function RecipeForm({ id, values, shelf, book }: Props) {
  const navigate = useNavigate();
  const { send, problems, busy } = useAct('/api/bench/recipes/acts');
  const blank: Fields = { ...firstValues(shelf, undefined), name: '', waterId: '' };
  const form = useForm<Fields & { note: string }>({
    defaultValues: {
      ...blank,
      note: '',
      ...(values && {
        ...withRecipe(blank, id ?? '', values, shelf),
        note: values.note,
        waterId: values.waterId ?? '',
      }),
    },
  });
  const { register, handleSubmit, formState, watch, reset, getValues, setValue } = form;
  const { errors } = formState;
  const use = watch('use');
  const keep = async (f: Fields & { note: string }) => {
    if (await send({ kind: 'put', id: id ?? newId(), values: recipeOf(f) }, `${f.name} kept`))
      await navigate('/bench/recipes');
  };
  const parts = Object.entries(problems).find(([path]) => path.includes('parts'))?.[1];
  const other = parts ? undefined : otherProblems(problems, ['name', 'phLow', 'phHigh', 'holdMinutes', 'note']);
  return (
    <div className="page start-batch">
      <header>
        <div>
          <h1>{id ? 'Change a recipe' : 'A new recipe'}</h1>
          <div className="small">
            Batches made by it before stay as they were; how often it came out right starts anew with a changed part.
          </div>
        </div>
        <Link className="btn btn-outline-secondary push" to="/bench/recipes">
          Leave it
        </Link>
      </header>
      <div className="begin-cols">
        <Form className="sheet start-form" noValidate onSubmit={(e) => void handleSubmit(keep)(e)}>
          <LabelledField label="Name" error={errors.name?.message ?? problemAt(problems, 'name')}>
            {(a) => (
              <Form.Control
                {...a}
                {...register('name', { validate: (v) => v.trim() !== '' || 'Give the recipe a name.' })}
                maxLength={60}
              />
            )}
          </LabelledField>
          <LabelledField label="Use" error={undefined}>
            {(a) => (
              <Form.Select
                {...a}
                value={use}
                onChange={(e) => {
                  const now = getValues();
                  const filled = now.parts.length > 0 ? now : { ...now, parts: blank.parts };
                  reset({ ...withUse(filled, e.target.value as Use, book.rules), name: now.name, note: now.note });
                }}
              >
                {USES.map((u) => (
                  <option key={u} value={u}>
                    {USE_WORDS[u]}
                  </option>
                ))}
              </Form.Select>
            )}
          </LabelledField>
          <LabelledField label="Water" error={undefined}>
            {(a) => (
              <Form.Select {...a} {...register('waterId')}>
                <option value="">any</option>
                {shelf.waters.map((w) => (
                  <option key={w.id} value={w.id}>
                    {w.name}
                  </option>
                ))}
              </Form.Select>
            )}
          </LabelledField>
          {use !== 'water' && <PartsFields form={form as never} bottles={shelf.bottles} />}
          {parts && (
            <div className="field-error wide" role="alert">
              {parts}
            </div>
          )}
          <div className="two">
            <LabelledField label="pH from" error={phError(errors) ?? problemAt(problems, 'phLow')}>
              {(a) => (
                <Form.Control
                  {...a}
                  inputMode="decimal"
                  {...register('phLow', { validate: (v, f) => phWindow(asNumber(v), asNumber(f.phHigh)) })}
                />
              )}
            </LabelledField>
            <LabelledField label="pH to" error={problemAt(problems, 'phHigh')}>
              {(a) => <Form.Control {...a} inputMode="decimal" {...register('phHigh')} />}
            </LabelledField>
          </div>
          {use === 'soak' && (
            <LabelledField
              label="Hold, min"
              error={problemAt(problems, 'holdMinutes')}
              hint="empty: it stays in the pot, and 5.8 to 6.2 suits it better"
            >
              {(a) => <Form.Control {...a} inputMode="numeric" {...register('hold')} />}
            </LabelledField>
          )}
          <LabelledField label="Note" error={problemAt(problems, 'note')} wide>
            {(a) => <Form.Control {...a} {...register('note')} maxLength={300} />}
          </LabelledField>
          <div className="wide d-flex gap-2 align-items-center">
            <Button type="submit" size="lg" disabled={busy}>
              Keep the recipe
            </Button>
            {other && (
              <span className="field-error" role="alert">
                {other}
              </span>
            )}
          </div>
        </Form>
        {use !== 'water' && <AimsSolver onUse={(doses) => setValue('parts', doses, { shouldDirty: true })} />}
      </div>
    </div>
  );
}
