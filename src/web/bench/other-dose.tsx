import { useState } from 'react';
import Form from 'react-bootstrap/Form';
import type { BatchView } from '../../contract/bench.ts';

export type Dose = { toolId: string; steps: number; doseMl: number; relativeSd: number };

/** For when something else went in than was asked for: tool and count as they really were. */
export function OtherDose({ view, dose, onChange }: { view: BatchView; dose: Dose | undefined; onChange(dose: Dose | undefined): void }) {
  const [open, setOpen] = useState(false);
  const [toolId, setToolId] = useState(view.tools[0]?.id ?? '');
  const [text, setText] = useState('');
  const tool = view.tools.find((t) => t.id === toolId);
  if (!tool) return null;
  const update = (id: string, typed: string) => {
    const chosen = view.tools.find((t) => t.id === id);
    const amount = Number(typed.replace(',', '.'));
    if (!chosen || typed.trim() === '' || !(amount > 0) || !Number.isFinite(amount)) return onChange(undefined);
    const steps = chosen.kind === 'dropper' ? Math.round(amount) : Math.max(1, Math.round(amount / chosen.stepMl));
    const doseMl = chosen.kind === 'dropper' ? steps * chosen.stepMl : amount;
    onChange({ toolId: id, steps, doseMl, relativeSd: chosen.kind === 'dropper' && chosen.dropsPerMl === null ? 0.2 : 0.05 });
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
        <span className="quiet">{tool.kind === 'dropper' ? 'drops' : 'mL'}</span>
        <Form.Select aria-label="with" size="sm" value={toolId} onChange={(e) => (setToolId(e.target.value), update(e.target.value, text))}>
          {view.tools.map((t) => (
            <option key={t.id} value={t.id}>
              {t.name}
            </option>
          ))}
        </Form.Select>
        <button type="button" className="btn btn-link btn-sm p-0 text-white" onClick={() => (setOpen(false), setText(''), onChange(undefined))}>
          as advised
        </button>
      </div>
      {invalid && (
        <div className="field-error" role="alert">
          Give a number above zero, such as {tool.kind === 'dropper' ? '9 drops' : '0.4 mL'}.
        </div>
      )}
    </div>
  );
}
