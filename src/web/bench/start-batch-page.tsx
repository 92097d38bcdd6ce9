import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { useForm } from 'react-hook-form';
import { useNavigate, useSearchParams } from 'react-router';
import type { BatchView } from '../../contract/bench.ts';
import type { RecipeBook } from '../../contract/recipes.ts';
import type { RoundView, RoundMix } from '../../contract/round.ts';
import type { ShelfView } from '../../contract/shelf.ts';
import { roundQuery } from '../round/index.ts';
import { useActs } from '../shell/acts.tsx';
import { get, newId, ProblemError } from '../shell/api.ts';
import { litres } from '../shell/format.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { BeforePanel, useBefore } from './before-panel.tsx';
import { PartsFields } from './part-fields.tsx';
import { recipesQuery } from './recipes-query.ts';
import { acidKey, keptDraft, toRequest, wantedFrom, type Fields, type Wanted } from './start-values.ts';
import { fieldOf, startingValues, together } from './start-form-rules.ts';
import { ToolFields } from './tool-fields.tsx';
import { HoldField, PhFields, WaterAndVessel, WhatFor } from './start-fields.tsx';

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
          A batch needs a water, a feed and something to measure with; a pen helps, and can come later. They come with
          the shelf.
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

/** The round's mix that is asked for, with the one that is made in its bucket. */
function mixFor(round: RoundView, mixKey: string | null, withKey: string | null): RoundMix | undefined {
  const one = round.mixes.find((m) => m.key === mixKey);
  return one?.oneWith && withKey === one.oneWith.key ? together(one) : one;
}

function StartForm({ shelf, round, book, mixKey, withKey, recipeId, wanted }: Props) {
  const { put } = useActs();
  const navigate = useNavigate();
  // Two mixes made as one: the strength and pH inside both, litres for both, and a key that serves both.
  const mix = mixFor(round, mixKey, withKey);
  const recipes = book.recipes.filter((r) => r.retiredOn === null);
  const key = mix?.key ?? null;
  const draftKey = `bench-start:${key ?? mixKey ?? recipeId ?? 'free'}:${wanted.ph ?? ''}:${round.today}`;
  const form = useForm<Fields>({
    defaultValues: { ...startingValues(shelf, mix, recipes, recipeId, wanted), ...keptDraft(draftKey) },
  });
  const { register, handleSubmit, formState, setError, watch } = form;
  const { errors, isSubmitting } = formState;
  useEffect(() => {
    const subscription = watch((values) => sessionStorage.setItem(draftKey, JSON.stringify(values)));
    return () => subscription.unsubscribe();
  }, [watch, draftKey]);
  const values = watch();
  const before = useBefore(toRequest(values, key, round, shelf));

  const submit = async (fields: Fields) => {
    const id = newId();
    const body = toRequest(
      { ...fields, byRecipe: fields.byRecipe && before?.trust?.trusted === true },
      key,
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

  const of = { form, shelf, round, book, mix };
  return (
    <div className="page start-batch">
      <Head mix={mix} />
      <div className="begin-cols">
        <Form className="sheet start-form" noValidate onSubmit={(e) => void handleSubmit(submit)(e)}>
          <WhatFor {...of} recipes={recipes} />
          {values.use !== 'water' && <PartsFields reuse form={form} bottles={shelf.bottles} />}
          <WaterAndVessel {...of} />
          {values.use === 'soak' && <HoldField {...of} />}
          <PhFields {...of} mixKey={mixKey} />
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
              {values.ppmMeterId ? 'Read the water next' : 'Measure it out next'}
            </Button>
            {errors.root && (
              <span className="field-error" role="alert">
                {errors.root.message}
              </span>
            )}
          </div>
        </Form>
        <BeforePanel
          before={before}
          waterId={values.waterId}
          pens={values.ppmMeterId !== '' || values.phMeterId !== ''}
        />
      </div>
    </div>
  );
}

function Head({ mix }: { mix: RoundMix | undefined }) {
  return (
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
  );
}
