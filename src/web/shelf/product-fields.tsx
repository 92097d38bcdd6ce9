import Form from 'react-bootstrap/Form';
import { PRODUCT_KIND, PRODUCT_KINDS } from '../../contract/kinds.ts';
import { ACID_CAUTION, ALKALI_CAUTION } from '../../contract/cautions.ts';
import { doseALitre, recipeStrength } from '../../core/strength/index.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { Icon } from '../drawing/icon.tsx';
import { largeSign, ppmText } from '../shell/format.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { problemAt } from '../shell/use-act.ts';
import { TypedField, type FieldsProps } from './typed-field.tsx';
import { LabelFields } from './label-fields.tsx';
import { toValues } from './texts.ts';
import type { Recipe, ShelfValues, ShelfRoom } from '../../contract/shelf.ts';
import type { Texts } from './as-typed.ts';

const UNITS = [
  ['mL', 'mL'],
  ['drops', 'drops of a dropper'],
  ['spoons', 'spoons'],
  ['g', 'grams'],
  ['other', 'another measure'],
] as const;

/** A product: what it is, what the label says, and "so much in so much water gave so much". */
export function ProductFields({ brief = false, ...props }: FieldsProps & { brief?: boolean }) {
  const { texts, change, problems, room } = props;
  const kind = texts['kind'];
  const corrects = kind === 'acid' || kind === 'base';
  return (
    <>
      <LabelledField label="What it is" error={undefined}>
        {(a) => (
          <Form.Select {...a} value={kind} onChange={(e) => change({ kind: e.target.value, caution: '' })}>
            {PRODUCT_KINDS.map((k) => (
              <option key={k} value={k}>
                {PRODUCT_KIND[k].words}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      <TypedField
        {...props}
        label="What you call it"
        name="name"
        placeholder={kind === 'feed' ? 'Orchid feed' : ''}
        autoFocus
      />
      {!brief && <LabelFields {...props} />}
      <TypedField
        {...props}
        label={brief ? 'From the label' : 'Note'}
        name="label"
        placeholder={corrects ? '10 % nitric acid' : '6-3-9, thinned 1 + 1'}
      />
      {corrects ? (
        <p className="caution-line mb-0">
          <Icon name="exclamationTriangle" /> {kind === 'acid' ? ACID_CAUTION : ALKALI_CAUTION}
        </p>
      ) : (
        <RecipeFields props={props} texts={texts} change={change} room={room} />
      )}
      {!brief && !corrects && (
        <fieldset className="recipe-fields">
          <legend>What the label says of its use</legend>
          <div className="pair">
            <LabelledField label="Made for hydroponics" error={undefined}>
              {(a) => (
                <Form.Select
                  {...a}
                  value={texts['hydroponics']}
                  onChange={(e) => change({ hydroponics: e.target.value })}
                >
                  <option value="unsaid">it does not say</option>
                  <option value="yes">yes</option>
                  <option value="no">no</option>
                </Form.Select>
              )}
            </LabelledField>
            <TypedField
              {...props}
              label="Most in a litre, mL (g)"
              name="topDoseMlL"
              numeric
              hint="empty: it does not say"
            />
            <TypedField {...props} label="Longest run, days" name="longestDays" numeric hint="empty: no end" />
          </div>
          <Form.Check
            type="checkbox"
            id="slows-growth"
            label="It slows growth on purpose: it must end by itself"
            checked={texts['slowsGrowth'] === 'yes'}
            onChange={(e) =>
              change({
                slowsGrowth: e.target.checked ? 'yes' : '',
                ...(e.target.checked && !texts['longestDays'] ? { longestDays: '7' } : {}),
              })
            }
          />
        </fieldset>
      )}
      {problemAt(problems, 'caution') && <div className="field-error">{problemAt(problems, 'caution')}</div>}
    </>
  );
}

function RecipeFields({
  props,
  texts,
  change,
  room,
}: {
  props: FieldsProps;
  texts: Texts;
  change: (part: Partial<Texts>) => void;
  room: ShelfRoom;
}) {
  const pen = room.meters.some((m) => m.values.quantity === 'ppm');
  return (
    <fieldset className="recipe-fields">
      <legend>
        {pen ? 'So much gave so much: one mix you remember' : 'What its label gives: so much in so much water'}
      </legend>
      <div className="pair">
        <TypedField {...props} label="Amount" name="amount" numeric placeholder="2" />
        <LabelledField label="of" error={undefined}>
          {(a) => (
            <Form.Select {...a} value={texts['unit']} onChange={(e) => change({ unit: e.target.value })}>
              {UNITS.map(([value, words]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
            </Form.Select>
          )}
        </LabelledField>
      </div>
      {(texts['unit'] === 'drops' || texts['unit'] === 'spoons') && (
        <LabelledField label={texts['unit'] === 'drops' ? 'Which dropper' : 'Which spoon'} error={undefined}>
          {(a) => (
            <Form.Select {...a} value={texts['toolId']} onChange={(e) => change({ toolId: e.target.value })}>
              <option value="">not known any more</option>
              {room.tools
                .filter((t) => t.values.kind === (texts['unit'] === 'drops' ? 'dropper' : 'spoon'))
                .map((t) => (
                  <option key={t.id} value={t.id}>
                    {t.values.name}
                  </option>
                ))}
            </Form.Select>
          )}
        </LabelledField>
      )}
      {texts['unit'] === 'other' && (
        <TypedField {...props} label="Which measure" name="unitWords" placeholder="capful" />
      )}
      <div className="pair">
        <TypedField {...props} label={`in water, ${largeSign()}`} name="waterL" numeric placeholder="4" />
        {pen && (
          <>
            <TypedField {...props} label="the pen read, ppm" name="readsPpm" numeric placeholder="110" />
            <TypedField {...props} label="the water alone, ppm" name="basePpm" numeric placeholder="9" />
          </>
        )}
      </div>
      <RecipeWords {...props} />
      <p className="small mb-0">
        {pen
          ? 'Leave it empty if you do not remember one. The bench then starts with small portions and learns it from your pen. The label’s dose without a reading is kept as that.'
          : 'Without a pen the bench measures out this dose, or the part of it you choose.'}
      </p>
    </fieldset>
  );
}

/** "1.25 mL a litre, as the label says", where nobody read a pen in it. */
function labelWords(recipe: Recipe, tool: ShelfValues<'tool'> | undefined): string | undefined {
  if (recipe.readsPpm !== null || recipe.waterL === null) return undefined;
  const dose = doseALitre({
    ...recipe,
    dropsPerMl: tool?.dropsPerMl ?? null,
    spoonMl: tool?.kind === 'spoon' ? tool.capacityMl : null,
  });
  return dose === undefined ? undefined : `${Number(dose.toFixed(3))} mL a litre, as the label says`;
}

/** What follows from the recipe as typed so far, or why nothing is scaled from it. */
function RecipeWords({ texts, room }: FieldsProps) {
  const { recipe } = toValues('product', texts, room) as ShelfValues<'product'>;
  if (
    !recipe ||
    !(recipe.amount > 0) ||
    [recipe.waterL, recipe.readsPpm, recipe.basePpm].some((n) => n !== null && !(n >= 0)) ||
    recipe.waterL === 0
  )
    return null;
  const tool = room.tools.find((t) => t.id === recipe.toolId)?.values;
  const strength = recipeStrength({
    ...recipe,
    dropsPerMl: tool?.dropsPerMl ?? null,
    spoonMl: tool?.kind === 'spoon' ? tool.capacityMl : null,
    scale: room.meters.find((m) => m.id === recipe.meterId)?.values.scale ?? null,
  });
  return strength.known ? (
    <p className="chip good mb-0" role="status">
      1 mL in 1 L gives about {ppmText(ppmFromEc(strength.ecPerMlL, room.scale))} ppm over the water
    </p>
  ) : (
    <p className="chip soon mb-0 wrap" role="status">
      {labelWords(recipe, tool) ?? `Not scaled: ${strength.why}`}
    </p>
  );
}
