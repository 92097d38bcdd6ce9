import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { Link } from 'react-router';
import { useFieldArray, useWatch, type UseFormReturn } from 'react-hook-form';
import { BATCHES_OF_A_LARGE_STOCK } from '../../contract/bench.ts';
import { AIM_ITEMS, MOST_PARTS } from '../../contract/recipes.ts';
import type { ShelfView } from '../../contract/shelf.ts';
import { ELEMENT_WORDS } from '../../core/solution/index.ts';
import { Icon } from '../drawing/icon.tsx';
import { dayMonth } from '../shell/format.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { amountProblem, freshPart, LABEL_SHARES, perL, type Fields, type PartFields } from './start-values.ts';

const AIM_LABEL = { net: 'Aim over base, ppm', perL: 'mL (g) a litre', element: 'mg/L' } as const;

/** What goes in: one row a product, each with its own aim. `reuse`: stocks that last may be made and drawn on, which a recipe does not say. */
export function PartsFields({
  form,
  bottles: all,
  reuse = false,
}: {
  form: UseFormReturn<Fields>;
  bottles: ShelfView['bottles'];
  reuse?: boolean;
}) {
  const { fields, append, remove, move } = useFieldArray({ control: form.control, name: 'parts' });
  const parts = useWatch({ control: form.control, name: 'parts' });
  const [keepOrder, useOf] = useWatch({ control: form.control, name: ['keepOrder', 'use'] });
  const orders = reuse && fields.length > 1 && useOf !== 'water';
  const bottles = all.filter((b) => b.kind !== 'acid' && b.kind !== 'base');
  const unused = bottles.find((b) => !parts.some((p) => p.productId === b.productId));
  return (
    <fieldset className="wide parts-fields">
      <legend>What goes in</legend>
      {fields.map((field, i) => (
        <PartRow
          key={field.id}
          form={form}
          index={i}
          part={parts[i] ?? field}
          bottles={bottles}
          reuse={reuse}
          onUp={orders && keepOrder && i > 0 ? () => move(i, i - 1) : undefined}
          onRemove={fields.length > 1 || parts.length === 0 ? () => remove(i) : undefined}
        />
      ))}
      <div className="d-flex flex-wrap gap-2 align-items-center">
        {unused && fields.length < MOST_PARTS && (
          <Button
            variant="outline-secondary"
            size="sm"
            onClick={() =>
              append(
                freshPart(
                  unused.productId,
                  unused.kind === 'calmag' ? '50' : unused.kind === 'magnesium' ? '20' : '90',
                ),
              )
            }
          >
            <Icon name="plus" /> Another product in the same can
          </Button>
        )}
        {!(orders && keepOrder) && (
          <span className="small">The bench puts them in the order that clouds least, and says why.</span>
        )}
      </div>
      {orders && <OwnOrder form={form} keep={keepOrder} />}
      {form.formState.errors.parts?.root && (
        <div className="field-error" role="alert">
          {form.formState.errors.parts.root.message}
        </div>
      )}
    </fieldset>
  );
}

/** The order of the bench can be overruled, with a reason that is kept. */
function OwnOrder({ form, keep }: { form: UseFormReturn<Fields>; keep: boolean }) {
  const { register, formState } = form;
  return (
    <div className="own-order">
      <Form.Check id="keep-order" type="checkbox" label="In the order they stand here" {...register('keepOrder')} />
      {keep && (
        <LabelledField label="Why in that order" error={formState.errors.ownOrder?.message}>
          {(a) => (
            <Form.Control
              {...a}
              autoComplete="off"
              placeholder="as its maker says"
              {...register('ownOrder', { validate: (v) => v.trim() !== '' || 'Say why, in a few words.' })}
            />
          )}
        </LabelledField>
      )}
    </div>
  );
}

type RowProps = {
  form: UseFormReturn<Fields>;
  index: number;
  part: PartFields;
  bottles: ShelfView['bottles'];
  reuse: boolean;
  /** One place up, where the order is the grower's. */
  onUp: (() => void) | undefined;
  onRemove: (() => void) | undefined;
};

/** What the label gives, whole or in part, as a dose a litre. */
function LabelDose({
  dose,
  unit,
  asked,
  take,
}: {
  dose: number | null;
  unit: 'mL' | 'g';
  /** A dose a litre is wanted, and none stands there. */
  asked: boolean;
  take(amount: string): void;
}) {
  if (dose === null)
    return asked ? (
      <div className="label-dose small">
        What its label gives is not on the Shelf: <Link to="/shelf">copy it there</Link>, or give the {unit} a litre.
      </div>
    ) : null;
  return (
    <div className="label-dose small">
      The label gives {Number(dose.toFixed(3))} {unit} a litre:
      {LABEL_SHARES.map(([share, words]) => (
        <button key={words} type="button" className="btn btn-link btn-sm" onClick={() => take(perL(share * dose))}>
          {words}
        </button>
      ))}
    </div>
  );
}

function PartRow({ form, index, part, bottles, reuse, onUp, onRemove }: RowProps) {
  const { register, formState } = form;
  const errors = formState.errors.parts?.[index];
  const which = index === 0 ? '' : `, part ${index + 1}`;
  const bottle = bottles.find((b) => b.productId === part.productId);
  return (
    <div className="part-row">
      <LabelledField label={`Product${which}`} error={errors?.productId?.message}>
        {(a) => (
          <Form.Select
            {...a}
            {...register(`parts.${index}.productId`, {
              validate: (v) => v !== '' || 'Choose a product: the one of the recipe is not on the Shelf.',
            })}
          >
            {part.productId === '' && <option value="">not on the Shelf</option>}
            {bottles.map((b) => (
              <option key={b.id} value={b.productId}>
                {b.name}
                {b.note ? ` (${b.note})` : ''}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      <LabelledField label={`Aim by${which}`} error={undefined}>
        {(a) => (
          <Form.Select {...a} {...register(`parts.${index}.aimKind`)}>
            <option value="net">the pen, over base</option>
            <option value="perL">{bottle?.unit === 'g' ? 'g a litre' : 'mL a litre'}</option>
            <option value="element">mg/L of an element</option>
          </Form.Select>
        )}
      </LabelledField>
      <LabelledField label={`${AIM_LABEL[part.aimKind]}${which}`} error={errors?.amount?.message}>
        {(a) => (
          <div className="d-flex gap-2">
            <Form.Control
              {...a}
              inputMode="decimal"
              {...register(`parts.${index}.amount`, { validate: (text) => amountProblem(text, part.aimKind) })}
            />
            {part.aimKind === 'element' && (
              <Form.Select aria-label={`of${which}`} {...register(`parts.${index}.element`)}>
                {AIM_ITEMS.map((item) => (
                  <option key={item} value={item}>
                    {item === 'SiO2' ? 'silica, SiO₂' : ELEMENT_WORDS[item]}
                  </option>
                ))}
              </Form.Select>
            )}
          </div>
        )}
      </LabelledField>
      {bottle && (
        <LabelDose
          dose={bottle.labelDose}
          unit={bottle.unit}
          asked={part.aimKind === 'perL' && part.amount === ''}
          take={(amount) => {
            form.setValue(`parts.${index}.aimKind`, 'perL');
            form.setValue(`parts.${index}.amount`, amount, { shouldValidate: formState.isSubmitted });
          }}
        />
      )}
      {bottle?.unit === 'g' && <SolidWay form={form} index={index} which={which} bottle={bottle} reuse={reuse} />}
      <RowButtons name={bottle?.name} onUp={onUp} onRemove={onRemove} />
    </div>
  );
}

/** How a solid goes in. */
function SolidWay({
  form,
  index,
  which,
  bottle,
  reuse,
}: Pick<RowProps, 'form' | 'index' | 'reuse'> & { which: string; bottle: ShelfView['bottles'][number] }) {
  const { register, formState } = form;
  return (
    <LabelledField wide label={`A solid goes in${which}`} error={formState.errors.parts?.[index]?.solid?.message}>
      {(a) => (
        <Form.Select {...a} {...register(`parts.${index}.solid`)}>
          <option value="stock">weighed, or by the spoon, into a hot stock</option>
          {reuse && <option value="large">weighed into a stock for {BATCHES_OF_A_LARGE_STOCK} such batches</option>}
          {reuse && bottle.stock && (
            <option value="made">
              from the stock of {dayMonth(bottle.stock.madeOn)}, some {Math.round(bottle.stock.leftMl)} mL left
            </option>
          )}
          <option value="granules">counted in granules</option>
        </Form.Select>
      )}
    </LabelledField>
  );
}

function RowButtons({ name, onUp, onRemove }: Pick<RowProps, 'onUp' | 'onRemove'> & { name: string | undefined }) {
  return (
    <>
      {onUp && (
        <Button variant="link" aria-label={`${name ?? 'It'} before the one above`} onClick={onUp}>
          <Icon name="arrowUp" />
        </Button>
      )}
      {onRemove && (
        <Button variant="link" className="part-remove" aria-label={`Take ${name ?? 'it'} out`} onClick={onRemove}>
          <Icon name="x" />
        </Button>
      )}
    </>
  );
}
