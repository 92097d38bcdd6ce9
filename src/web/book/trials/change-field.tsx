import Form from 'react-bootstrap/Form';
import { TREATMENT_WORDS, TREATMENTS, type TreatmentKind } from '../../../contract/kinds.ts';
import type { PotsView } from '../../../contract/pots.ts';
import { LabelledField } from '../../shell/labelled-field.tsx';
import type { TrialTexts } from './trial-form-values.ts';

type FieldProps = {
  texts: TrialTexts;
  set(some: Partial<TrialTexts>): void;
  view: PotsView;
  at(field: string): string | undefined;
};

/** The figure or choice of the chosen change. */
export function ChangeField({ texts, set, view, at }: FieldProps) {
  const typed = (label: string, key: 'share' | 'times' | 'flush' | 'by', field: string, hint: string) => (
    <LabelledField label={label} error={at(field)} hint={hint}>
      {(a) => (
        <Form.Control
          {...a}
          inputMode="decimal"
          autoComplete="off"
          value={texts[key]}
          onChange={(e) => set({ [key]: e.target.value })}
        />
      )}
    </LabelledField>
  );
  switch (texts.kind) {
    case 'strength':
      return typed('How strong, % of now', 'share', 'share', 'Half is 50.');
    case 'days':
      return typed('How many times as far apart', 'times', 'times', 'Half as often is 2. Watch for dry pots.');
    case 'flush':
      return typed('How much, times the reservoir', 'flush', 'timesReservoir', '0: not flushed.');
    case 'pourPh':
      return typed(
        'By how much',
        'by',
        'by',
        'Lower with a minus. Acid into water and never the reverse; gloves and eyes covered; follow the label.',
      );
    case 'flushWith':
      return (
        <LabelledField label="Flushed with" error={undefined}>
          {(a) => (
            <Form.Select
              {...a}
              value={texts.with}
              onChange={(e) => set({ with: e.target.value as TrialTexts['with'] })}
            >
              <option value="still">still water throughout</option>
              <option value="plentiful">whatever is plentiful</option>
            </Form.Select>
          )}
        </LabelledField>
      );
    case 'regimen':
      return (
        <LabelledField label="Which regimen" error={at('change.regimenId')}>
          {(a) => (
            <Form.Select {...a} value={texts.regimenId} onChange={(e) => set({ regimenId: e.target.value })}>
              <option value="">choose one</option>
              {view.regimens.map(({ id, values }) => (
                <option key={id} value={id}>
                  {values.name}
                </option>
              ))}
            </Form.Select>
          )}
        </LabelledField>
      );
    case 'treatment':
      return (
        <LabelledField
          label="Which"
          error={undefined}
          hint="None is proven. With acid: into water and never the reverse; gloves and eyes covered; follow the label."
        >
          {(a) => (
            <Form.Select
              {...a}
              value={texts.treatment}
              onChange={(e) => set({ treatment: e.target.value as TreatmentKind })}
            >
              {TREATMENTS.map((kind) => (
                <option key={kind} value={kind}>
                  {TREATMENT_WORDS[kind]}
                </option>
              ))}
            </Form.Select>
          )}
        </LabelledField>
      );
    case 'own':
      return (
        <LabelledField label="What is done" error={at('words')} hint="The Round says at each pot which it gets.">
          {(a) => (
            <Form.Control
              {...a}
              autoComplete="off"
              maxLength={80}
              placeholder="lamp a hand higher"
              value={texts.words}
              onChange={(e) => set({ words: e.target.value })}
            />
          )}
        </LabelledField>
      );
  }
}
