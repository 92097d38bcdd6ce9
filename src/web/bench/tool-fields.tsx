import { inSentence } from '../../core/quantity/words.ts';
import Form from 'react-bootstrap/Form';
import type { UseFormReturn } from 'react-hook-form';
import type { ShelfView } from '../../contract/shelf.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import type { Fields } from './start-values.ts';

/** What it is measured and read with. */
export function ToolFields({ form, shelf }: { form: UseFormReturn<Fields>; shelf: ShelfView }) {
  const { register, formState, watch } = form;
  const { errors } = formState;
  const uncounted = shelf.tools.find(
    (t) => t.kind === 'dropper' && watch('toolIds').includes(t.id) && t.dropsPerMl === null,
  );
  const meters = (quantity: 'ppm' | 'pH') =>
    shelf.meters
      .filter((m) => m.quantity === quantity)
      .map((m) => (
        <option key={m.id} value={m.id}>
          {m.name}
          {m.simulated ? ' (simulated)' : ''}
        </option>
      ));
  return (
    <>
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
        {uncounted && (
          <div className="small mt-1">
            Nobody has counted the {inSentence(uncounted.name)} yet: 20 drops to the mL is a guess, and every dose by it
            is rough. The bench asks for a count.
          </div>
        )}
      </fieldset>
      <LabelledField label="TDS pen" error={errors.ppmMeterId?.message}>
        {(a) => (
          <Form.Select {...a} {...register('ppmMeterId')}>
            {meters('ppm')}
            <option value="">none: by measure, as labels say</option>
          </Form.Select>
        )}
      </LabelledField>
      <LabelledField label="pH pen" error={errors.phMeterId?.message}>
        {(a) => (
          <Form.Select {...a} {...register('phMeterId')}>
            {meters('pH')}
            <option value="">none: do not read pH</option>
          </Form.Select>
        )}
      </LabelledField>
    </>
  );
}
