import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { useForm } from 'react-hook-form';
import { useNavigate, useSearchParams } from 'react-router';
import type { BatchView } from '../../contract/bench.ts';
import { USE_WORDS, type RecipeBook, type Use } from '../../contract/recipes.ts';
import type { RoundView } from '../../contract/round.ts';
import type { ShelfView } from '../../contract/shelf.ts';
import { USES } from '../../core/strength/index.ts';
import { roundQuery } from '../round/index.ts';
import { useActs } from '../shell/acts.tsx';
import { get, newId, ProblemError } from '../shell/api.ts';
import { largeSign, litres, ppmText } from '../shell/format.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { BeforePanel, useBefore } from './before-panel.tsx';
import { PartsFields } from './part-fields.tsx';
import { PourHint } from './pour-hint.tsx';
import { recipesQuery } from './recipes-query.ts';
import {
  acidKey,
  asLitres,
  asNumber,
  keptDraft,
  phError,
  phOfSoak,
  phWindow,
  tooSmall,
  stretchAt,
  toRequest,
  wantedFrom,
  withRecipe,
  withUse,
  type Fields,
  type Wanted,
} from './start-values.ts';
import { fieldOf, fillsOf, firstPartOf, litresProblem, startingValues, together } from './start-form-rules.ts';
import { ToolFields } from './tool-fields.tsx';

/** Starts a batch: from the round (filled in already), from a recipe, or freely. */
export function StartBatchPage() {
  const [params] = useSearchParams();
  const mixKey = params.get('mix');
  const recipeId = params.get('recipe');
  const shelf = useQuery({ queryKey: ['shelf'], queryFn: () => get<ShelfView>('/api/shelf') });
  const round = useQuery(roundQuery);
  const recipes = useQuery(recipesQuery);
  if (shelf.isPending || round.isPending || recipes.isPending) return <Loading what="the shelf" />;
  if (!shelf.data || !round.data || !recipes.data) {
    const again = () => (void shelf.refetch(), void round.refetch(), void recipes.refetch());
    return <Failed error={shelf.error ?? round.error ?? recipes.error} retry={again} />;
  }
  if (shelf.data.bottles.length === 0 || shelf.data.waters.length === 0) {
    return (
      <Empty title="Nothing to mix with yet">
        <p className="mb-0">
          A batch needs a water, a feed, a pen and something to measure with. They come with the shelf.
        </p>
      </Empty>
    );
  }
  return (
    <StartForm
      key={`${mixKey} ${recipeId}`}
      shelf={shelf.data}
      round={round.data}
      book={recipes.data}
      mixKey={mixKey}
      withKey={params.get('with')}
      recipeId={recipeId}
      wanted={wantedFrom(params)}
    />
  );
}

type Props = {
  shelf: ShelfView;
  round: RoundView;
  book: RecipeBook;
  mixKey: string | null;
  withKey: string | null;
  recipeId: string | null;
  wanted: Wanted;
};

function StartForm({ shelf, round, book, mixKey, withKey, recipeId, wanted }: Props) {
  const { put } = useActs();
  const navigate = useNavigate();
  // Two mixes made as one: the strength and pH inside both, litres for both, and a key that serves both.
  const one = round.mixes.find((m) => m.key === mixKey);
  const mix = one?.oneWith && withKey === one.oneWith.key ? together(one) : one;
  const recipes = book.recipes.filter((r) => r.retiredOn === null);
  const draftKey = `bench-start:${mix?.key ?? mixKey ?? recipeId ?? 'free'}:${wanted.ph ?? ''}:${round.today}`;
  const form = useForm<Fields>({
    defaultValues: { ...startingValues(shelf, mix, recipes, recipeId, wanted), ...keptDraft(draftKey) },
  });
  const { register, handleSubmit, formState, setError, setValue, watch, reset, getValues } = form;
  const { errors, isSubmitting } = formState;
  useEffect(() => {
    const subscription = watch((values) => sessionStorage.setItem(draftKey, JSON.stringify(values)));
    return () => subscription.unsubscribe();
  }, [watch, draftKey]);
  const values = watch();
  const water = shelf.waters.find((w) => w.id === values.waterId);
  const vessel = shelf.vessels.find((v) => v.id === values.vesselId);
  const place = round.places.find((p) => p.id === values.placeId);
  const before = useBefore(toRequest(values, mix?.key ?? null, round, shelf));

  const submit = async (fields: Fields) => {
    const id = newId();
    const body = toRequest(
      { ...fields, byRecipe: fields.byRecipe && before?.trust?.trusted === true },
      mix?.key ?? null,
      round,
      shelf,
    );
    try {
      const sent = await put<BatchView>({ id, url: `/api/bench/batches/${id}`, body, words: `${body.name} started` });
      sessionStorage.removeItem(draftKey);
      if (wanted.acid) sessionStorage.setItem(acidKey(id), wanted.acid);
      await navigate(sent.kind === 'done' ? `/bench/${id}` : '/bench');
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      setError(fieldOf(error.problem.errors?.[0]?.path ?? ''), { message: error.problem.detail });
    }
  };

  return (
    <div className="page start-batch">
      <header>
        <div>
          <h1>
            {mix ? `Mix ${mix.letter} for ${mix.potsLeft} pot${mix.potsLeft === 1 ? '' : 's'}` : 'A batch of your own'}
          </h1>
          <div className="small">
            {mix
              ? `${litres(mix.litresToMix)} covers the fills with some spare`
              : 'For anything that is not on today’s round'}
          </div>
        </div>
      </header>
      <div className="begin-cols">
        <Form className="sheet start-form" noValidate onSubmit={(e) => void handleSubmit(submit)(e)}>
          {recipes.length > 0 && (
            <LabelledField label="Recipe" error={undefined}>
              {(a) => (
                <Form.Select
                  {...a}
                  value={values.recipeId}
                  onChange={(e) => {
                    const recipe = recipes.find((r) => r.id === e.target.value);
                    reset(
                      recipe
                        ? withRecipe(getValues(), recipe.id, recipe.values, shelf)
                        : { ...getValues(), recipeId: '', byRecipe: false },
                    );
                  }}
                >
                  <option value="">none: freely</option>
                  {recipes.map((r) => (
                    <option key={r.id} value={r.id}>
                      {r.values.name}
                    </option>
                  ))}
                </Form.Select>
              )}
            </LabelledField>
          )}
          <LabelledField label="Use" error={undefined}>
            {(a) => (
              <Form.Select
                {...a}
                value={values.use}
                onChange={(e) =>
                  reset(withUse(firstPartOf(getValues(), shelf, mix), e.target.value as Use, book.rules))
                }
              >
                {USES.map((use) => (
                  <option key={use} value={use}>
                    {USE_WORDS[use]}
                  </option>
                ))}
              </Form.Select>
            )}
          </LabelledField>
          <LabelledField label="Name" error={errors.name?.message}>
            {(a) => (
              <Form.Control
                {...a}
                {...register('name', { validate: (v) => v.trim() !== '' || 'Give the batch a name.' })}
                maxLength={80}
              />
            )}
          </LabelledField>
          {values.use !== 'water' && <PartsFields reuse form={form} bottles={shelf.bottles} />}
          <LabelledField
            label="Water"
            error={errors.waterId?.message}
            hint={
              water
                ? `${water.note}${water.lastBasePpm === null ? '; never read' : `; last read ${ppmText(water.lastBasePpm)} ppm`}`
                : undefined
            }
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
            {(a) => <Form.Control {...a} inputMode="decimal" {...register('litres', { validate: litresProblem })} />}
          </LabelledField>
          <LabelledField
            label="Mix it in"
            error={errors.vesselId?.message}
            hint={vessel ? `${vessel.material}, holds ${litres(vessel.capacityL)}` : undefined}
          >
            {(a) => (
              <Form.Select
                {...a}
                {...register('vesselId', { validate: (id, f) => tooSmall(shelf, id, asLitres(f.litres)) })}
              >
                {shelf.vessels.map((v) => (
                  <option key={v.id} value={v.id}>
                    {v.name}, {litres(v.capacityL)}
                  </option>
                ))}
              </Form.Select>
            )}
          </LabelledField>
          {!mix && (
            <LabelledField
              label="For the pots of"
              error={undefined}
              hint={place ? `${place.pots.length} pots; their fills come to ${litres(fillsOf(place))}` : undefined}
            >
              {(a) => (
                <Form.Select {...a} {...register('placeId')}>
                  <option value="">no place in particular</option>
                  {round.places.map((p) => (
                    <option key={p.id} value={p.id}>
                      {p.name}
                    </option>
                  ))}
                </Form.Select>
              )}
            </LabelledField>
          )}
          {values.use === 'soak' && (
            <LabelledField
              label="Hold, min"
              error={errors.hold?.message}
              hint="empty: it stays in the pot, and a lower pH suits it: the clay lifts it"
            >
              {(a) => (
                <Form.Control
                  {...a}
                  inputMode="numeric"
                  {...register('hold', {
                    onChange: (e: { target: { value: string } }) => {
                      const { phLow, phHigh } = phOfSoak(book.rules, e.target.value.trim() === '');
                      setValue('phLow', phLow);
                      setValue('phHigh', phHigh);
                    },
                    validate: (v) =>
                      v.trim() === '' ||
                      (asNumber(v) >= 1 && asNumber(v) <= 1440) ||
                      'Give the minutes, such as 30, or leave it empty.',
                  })}
                />
              )}
            </LabelledField>
          )}
          <div className="two">
            <LabelledField label="pH from" error={phError(errors)}>
              {(a) => (
                <Form.Control
                  {...a}
                  inputMode="decimal"
                  {...register('phLow', { validate: (v, f) => phWindow(asNumber(v), asNumber(f.phHigh)) })}
                />
              )}
            </LabelledField>
            <LabelledField label="pH to" error={undefined}>
              {(a) => <Form.Control {...a} inputMode="decimal" {...register('phHigh')} />}
            </LabelledField>
          </div>
          {mixKey && mix && values.use === 'feed' && (
            <PourHint
              mixKey={mixKey}
              today={round.today}
              low={asNumber(values.phLow)}
              high={asNumber(values.phHigh)}
              take={(ph) => {
                const stretch = stretchAt(ph);
                setValue('phLow', stretch.phLow);
                setValue('phHigh', stretch.phHigh);
              }}
            />
          )}
          <ToolFields form={form} shelf={shelf} />
          {before?.trust?.trusted && (
            <Form.Check
              className="wide"
              type="checkbox"
              id="by-recipe"
              label={`By recipe, without reading each part: ${before.trust.why}`}
              {...register('byRecipe')}
            />
          )}
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
        <BeforePanel before={before} waterId={values.waterId} />
      </div>
    </div>
  );
}
