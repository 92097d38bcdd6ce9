import { useState } from 'react';
import Form from 'react-bootstrap/Form';
import type { BatchPartView, BatchView } from '../../contract/bench.ts';
import { GRANULES } from '../../core/strength/stock.ts';
import { GRANULE_SD, GUESSED_DROP_SD, MEASURED_SD, SPOON_SD } from '../../core/strength/tool.ts';

const UNIT = { dropper: 'drops', spoon: 'spoonfuls', syringe: 'mL' } as const;

export type Dose = { toolId: string | null; steps: number; doseMl: number; relativeSd: number };

/** An amount in the tool's own measure: drops, spoonfuls, or mL. */
function measuredWith({ kind, stepMl, dropsPerMl }: BatchView['tools'][number], amount: number): Omit<Dose, 'toolId'> {
  if (kind === 'dropper') {
    const steps = Math.round(amount);
    return { steps, doseMl: steps * stepMl, relativeSd: dropsPerMl === null ? GUESSED_DROP_SD : MEASURED_SD };
  }
  if (kind === 'spoon')
    return { steps: Math.max(1, Math.round(2 * amount)), doseMl: 2 * amount * stepMl, relativeSd: SPOON_SD };
  return { steps: Math.max(1, Math.round(amount / stepMl)), doseMl: amount, relativeSd: MEASURED_SD };
}

/** For when something else went in than was asked for: tool and count as they really were. */
export function OtherDose({
  view,
  part,
  dose,
  onChange,
}: {
  view: Pick<BatchView, 'tools'>;
  part?: Pick<BatchPartView, 'method'>;
  dose: Dose | undefined;
  onChange(dose: Dose | undefined): void;
}) {
  const [open, setOpen] = useState(false);
  const [toolId, setToolId] = useState(view.tools[0]?.id ?? '');
  const [text, setText] = useState('');
  const counted = part?.method === 'granules';
  const tool = view.tools.find((t) => t.id === toolId);
  if (!tool && !counted) return null;
  const update = (id: string, typed: string) => {
    const amount = Number(typed.replace(',', '.'));
    if (typed.trim() === '' || !(amount > 0) || !Number.isFinite(amount)) return onChange(undefined);
    if (counted) {
      const steps = Math.max(1, Math.round(amount));
      return onChange({ toolId: null, steps, doseMl: steps * GRANULES.gramsEach, relativeSd: GRANULE_SD });
    }
    const chosen = view.tools.find((t) => t.id === id);
    if (!chosen) return onChange(undefined);
    const measured = measuredWith(chosen, amount);
    onChange(measured.steps < 1 ? undefined : { toolId: id, ...measured });
  };
  if (!open) {
    return (
      <div className="entry-keys">
        <button type="button" onClick={() => setOpen(true)}>
          I put in something else
        </button>
      </div>
    );
  }
  const invalid = text.trim() !== '' && !dose;
  const unit = counted ? 'granules' : UNIT[tool?.kind ?? 'syringe'];
  return (
    <div>
      <div className="d-flex gap-2 align-items-center flex-wrap">
        <label htmlFor="other-amount">I put in</label>
        <Form.Control
          id="other-amount"
          size="sm"
          inputMode="decimal"
          className="other-amount"
          value={text}
          isInvalid={invalid}
          onChange={(e) => (setText(e.target.value), update(toolId, e.target.value))}
        />
        <span className="quiet">{unit}</span>
        {!counted && (
          <Form.Select
            aria-label="with"
            size="sm"
            value={toolId}
            onChange={(e) => (setToolId(e.target.value), update(e.target.value, text))}
          >
            {view.tools.map((t) => (
              <option key={t.id} value={t.id}>
                {t.name}
              </option>
            ))}
          </Form.Select>
        )}
        <button
          type="button"
          className="btn btn-link btn-sm p-0 text-white"
          onClick={() => (setOpen(false), setText(''), onChange(undefined))}
        >
          as advised
        </button>
      </div>
      {invalid && (
        <div className="field-error" role="alert">
          Give a number above zero, such as {unit === 'mL' ? '0.4 mL' : `9 ${unit}`}.
        </div>
      )}
    </div>
  );
}
