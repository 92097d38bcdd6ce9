import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { UseFormReturn } from 'react-hook-form';
import {
  type Fields,
  asLitres,
  asNumber,
  phError,
  phOfSoak,
  phWindow,
  stretchAt,
  tooSmall,
  withRecipe,
  withUse,
} from './start-values.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { PourHint } from './pour-hint.tsx';
import { type RecipeBook, USE_WORDS } from '../../contract/recipes.ts';
import type { RoundMix, RoundView } from '../../contract/round.ts';
import { USES, type Use } from '../../core/strength/index.ts';
import { fillsOf, firstPartOf, litresProblem } from './start-form-rules.ts';
import { inSentence } from '../../core/quantity/words.ts';
import { inLargeUnit, largeSign, litres, ppmText } from '../shell/format.ts';
import type { ShelfView } from '../../contract/shelf.ts';
/* The fields a batch starts from, beside its parts and tools. */

type Props = {
  form: UseFormReturn<Fields>;
  shelf: ShelfView;
  round: RoundView;
  book: RecipeBook;
  mix: RoundMix | undefined;
};

/** A recipe to begin with, what the batch is for, and its name. */
export function WhatFor({ form, shelf, book, mix, recipes }: Props & { recipes: RecipeBook['recipes'] }) {
  const { register, reset, getValues, watch, formState } = form;
  const values = watch();
  const { errors } = formState;
  return (
    <>
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
            onChange={(e) => reset(withUse(firstPartOf(getValues(), shelf, mix), e.target.value as Use, book.rules))}
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
    </>
  );
}

/** More than the vessel holds: another that holds it, or in goes of the same make. The round asks for what is still missing after each. */
function WhatFits({ form, shelf }: Pick<Props, 'form' | 'shelf'>) {
  const { setValue, watch, formState } = form;
  const [typed, vesselId] = watch(['litres', 'vesselId']);
  const wanted = asLitres(typed);
  const vessel = shelf.vessels.find((v) => v.id === vesselId);
  if (!vessel || !(wanted > vessel.capacityL) || wanted > MOST_GOES * vessel.capacityL) return null;
  const goes = Math.ceil(wanted / vessel.capacityL);
  const each = Math.min(vessel.capacityL, Math.ceil((100 * wanted) / goes) / 100);
  const larger = [...shelf.vessels].sort((a, b) => a.capacityL - b.capacityL).find((v) => v.capacityL >= wanted);
  const set = (name: 'litres' | 'vesselId', value: string) => {
    setValue(name, value);
    if (formState.isSubmitted) void form.trigger(['litres', 'vesselId']);
  };
  return (
    <div className="wide what-fits small" role="status">
      The {inSentence(vessel.name)} holds {litres(vessel.capacityL)}.
      {larger && (
        <Button variant="outline-secondary" size="sm" onClick={() => set('vesselId', larger.id)}>
          Take the {inSentence(larger.name)}, {litres(larger.capacityL)}
        </Button>
      )}
      <Button variant="outline-secondary" size="sm" onClick={() => set('litres', inLargeUnit(each * 1000))}>
        Make it in {goes} goes of {litres(each)}
      </Button>
    </div>
  );
}
/** More goes than that are no plan. */
const MOST_GOES = 12;

/** Which water, how much of it, in what, and for whom. */
export function WaterAndVessel({ form, shelf, round, mix }: Props) {
  const { register, watch, formState } = form;
  const values = watch();
  const { errors } = formState;
  const water = shelf.waters.find((w) => w.id === values.waterId);
  const vessel = shelf.vessels.find((v) => v.id === values.vesselId);
  const place = round.places.find((p) => p.id === values.placeId);
  return (
    <>
      <LabelledField
        label="Water"
        error={errors.waterId?.message}
        hint={
          water
            ? [water.note, water.lastBasePpm === null ? 'never read' : `last read ${ppmText(water.lastBasePpm)} ppm`]
                .filter(Boolean)
                .join('; ')
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
      <WhatFits form={form} shelf={shelf} />
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
    </>
  );
}

/** How long a soak is held; one that stays in the pot wants another pH. */
export function HoldField({ form, book }: Props) {
  const { register, setValue, formState } = form;
  const { errors } = formState;
  return (
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
  );
}

/** Between which pH it is to come out, and what these pots are better poured at. */
export function PhFields({ form, round, mix, mixKey }: Props & { mixKey: string | null }) {
  const { register, setValue, watch, formState } = form;
  const values = watch();
  const { errors } = formState;
  return (
    <>
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
    </>
  );
}
