import { useMemo } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import {
  ELEMENT_WORDS,
  ELEMENTS,
  LABEL_ITEMS,
  readLabel,
  type LabelItem,
  type ReadLabel,
} from '../../core/solution/index.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { problemAt } from '../shell/use-act.ts';
import { TypedField, type FieldsProps } from './typed-field.tsx';
import { itemField, labelFrom } from './label-texts.ts';

/** A label's words for what it declares. */
export const ITEM_WORDS: Record<LabelItem, string> = {
  N: 'nitrogen, all',
  'NO3-N': 'as nitrate',
  'NH4-N': 'as ammonium',
  'urea-N': 'as urea',
  'organic-N': 'organic',
  P2O5: 'P₂O₅',
  P: 'P',
  K2O: 'K₂O',
  K: 'K',
  CaO: 'CaO',
  Ca: 'Ca',
  MgO: 'MgO',
  Mg: 'Mg',
  SO3: 'SO₃',
  S: 'S',
  SiO2: 'SiO₂',
  Si: 'Si',
  Na2O: 'Na₂O',
  Na: 'Na',
  Cl: 'Cl',
  Fe: 'Fe',
  B: 'B',
  Mn: 'Mn',
  Zn: 'Zn',
  Cu: 'Cu',
  Mo: 'Mo',
  Ni: 'Ni',
  Co: 'Co',
  nitric: 'nitric acid',
  phosphoric: 'phosphoric acid',
  citric: 'citric acid',
  acetic: 'acetic acid',
  KOH: 'potassium hydroxide',
  K2CO3: 'potassium carbonate',
  KHCO3: 'potassium bicarbonate',
  NaHCO3: 'bicarbonate of soda',
  Epsom: 'Epsom salt',
};

const NITROGEN: readonly LabelItem[] = ['N', 'NO3-N', 'NH4-N', 'urea-N', 'organic-N'];
const OXIDES: readonly LabelItem[] = ['P2O5', 'K2O', 'CaO', 'MgO', 'SO3'];
const PLAIN: readonly LabelItem[] = ['P', 'K', 'Ca', 'Mg', 'S'];
const TRACES: readonly LabelItem[] = ['Fe', 'Mn', 'Zn', 'Cu', 'B', 'Mo'];

/** The cells of a label, row by row, by what the product is. */
function rowsFor(kind: string, terms: string): readonly (readonly LabelItem[])[] {
  if (kind === 'acid') return [['nitric', 'phosphoric', 'citric', 'acetic', 'K']];
  if (kind === 'base') return [['KOH', 'K2CO3', 'KHCO3', 'NaHCO3', 'SiO2']];
  if (kind === 'magnesium') return [['Epsom', terms === 'elements' ? 'Mg' : 'MgO', terms === 'elements' ? 'S' : 'SO3']];
  if (kind === 'silicate') return [['SiO2', terms === 'elements' ? 'K' : 'K2O', 'Na2O', 'citric']];
  return [NITROGEN, terms === 'elements' ? PLAIN : OXIDES, [...TRACES], ['SiO2', 'Cl', 'Na']];
}

/** Copies a label the way it stands on the bottle; what it means is worked out beside it as one types. */
export function LabelFields(props: FieldsProps) {
  const { texts, change, problems } = props;
  const kind = texts['kind'] ?? 'feed';
  const powder = texts['labelForm'] === 'powder';
  const rows = rowsFor(kind, texts['labelTerms'] ?? 'oxides');
  const shown = new Set(rows.flat());
  const others = LABEL_ITEMS.filter((item) => !shown.has(item) && (texts[itemField(item)] ?? '') !== '');
  const corrects = kind === 'acid' || kind === 'base';
  const select = (label: string, name: string, options: readonly (readonly [string, string])[]) => (
    <LabelledField label={label} error={problemAt(problems, name)}>
      {(a) => (
        <Form.Select {...a} value={texts[name]} onChange={(e) => change({ [name]: e.target.value })}>
          {options.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </Form.Select>
      )}
    </LabelledField>
  );
  const cell = (item: LabelItem) => {
    const wrong = problemAt(problems, `percent.${item}`);
    return (
      <label key={item} className={wrong ? 'cell wrong' : 'cell'}>
        <span>{ITEM_WORDS[item]}</span>
        <input
          inputMode="decimal"
          autoComplete="off"
          aria-label={`${ITEM_WORDS[item]}, percent`}
          aria-invalid={wrong !== undefined}
          value={texts[itemField(item)] ?? ''}
          onChange={(e) => change({ [itemField(item)]: e.target.value })}
        />
        {wrong && (
          <span className="field-error" role="alert">
            {wrong}
          </span>
        )}
      </label>
    );
  };
  return (
    <fieldset className="label-fields">
      <legend>The label, as it stands on the {powder ? 'packet' : 'bottle'}</legend>
      <div className="pair">
        {select('It is', 'labelForm', [
          ['liquid', 'a liquid'],
          ['powder', 'a powder or crystals'],
        ])}
        {!powder &&
          select('Percent means', 'labelBasis', [
            ['w/w', 'by weight: g in 100 g'],
            ['w/v', 'g in 100 mL'],
          ])}
        {!corrects &&
          select('It counts in', 'labelTerms', [
            ['oxides', 'P₂O₅, K₂O, CaO …'],
            ['elements', 'P, K, Ca …'],
          ])}
        {!powder && texts['labelBasis'] !== 'w/v' && (
          <TypedField
            {...props}
            label="Density, g per mL"
            name="densityGMl"
            numeric
            placeholder={corrects ? '1.05' : '1.2'}
          />
        )}
        <TypedField
          {...props}
          label="Thinned to, parts"
          name="thinned"
          numeric
          hint="1: as bought; 2: one part and one of water"
        />
      </div>
      <div className="label-plate">
        <div className="plate-head">
          <b>As the label reads</b>
          <span>{powder || texts['labelBasis'] !== 'w/v' ? 'grams in 100 g' : 'grams in 100 mL'}</span>
        </div>
        {rows.map((row, i) => (
          <div className="plate-row" key={i}>
            {row.map(cell)}
          </div>
        ))}
        {others.length > 0 && <div className="plate-row">{others.map(cell)}</div>}
      </div>
      {problemAt(problems, 'analysis.percent') && (
        <div className="field-error" role="alert">
          {problemAt(problems, 'analysis.percent')}
        </div>
      )}
      {kind === 'acid' && (
        <div className="d-flex gap-2 flex-wrap">
          <Button
            size="sm"
            variant="outline-secondary"
            onClick={() => change({ labelBasis: 'w/v', [itemField('citric')]: '5', [itemField('K')]: '0.11' })}
          >
            It is lemon juice
          </Button>
          <Button
            size="sm"
            variant="outline-secondary"
            onClick={() => change({ labelBasis: 'w/v', [itemField('acetic')]: '5' })}
          >
            It is vinegar
          </Button>
          <span className="small align-self-center">No two lemons are alike: within about a quarter.</span>
        </div>
      )}
      <LabelReading texts={texts} scale={props.room.scale} />
    </fieldset>
  );
}

/** What follows from the label as typed so far: mg/L of each element for 1 mL in 1 L, and what a pen should read. */
function LabelReading({ texts, scale }: { texts: FieldsProps['texts']; scale: number }) {
  const read = useMemo(() => {
    const figures = labelFrom(texts);
    if (!figures || Object.values(figures.percent).some((v) => typeof v !== 'number')) return undefined;
    if (typeof figures.densityGMl === 'string' || typeof figures.thinned !== 'number') return undefined;
    return readLabel(figures);
  }, [texts]);
  if (!read)
    return (
      <p className="small mb-0">
        Copy its figures and the elements are worked out here. Leave empty what it does not say.
      </p>
    );
  if (!read.ok) {
    return (
      <ul className="chip soon wrap mb-0 list-unstyled" role="status">
        {read.issues.map((issue) => (
          <li key={issue.message}>{issue.message}</li>
        ))}
      </ul>
    );
  }
  return <LabelWords read={read} scale={scale} powder={texts['labelForm'] === 'powder'} />;
}

export function LabelWords({ read, scale, powder }: { read: ReadLabel; scale: number; powder: boolean }) {
  const unit = powder ? 'g' : 'mL';
  const there = ELEMENTS.filter((e) => read.elements[e] > 0.0005);
  return (
    <div className="label-words" role="status">
      <b>1 {unit} in a litre brings, mg/L:</b>{' '}
      {there.map((e) => (
        <span key={e} className="nowrap">
          {ELEMENT_WORDS[e]} <b className="num">{mgText(read.elements[e])}</b>
        </span>
      ))}
      {there.length === 0 && <span>nothing a pen or a plant would notice</span>}
      <div>
        {read.ecPerUnitL > 0 ? (
          <>
            A pen should read about <b className="num">{Math.round(ppmFromEc(read.ecPerUnitL, scale))}</b> ±{' '}
            {Math.round(ppmFromEc(read.sd, scale))} ppm over the water. A first guess: the bench learns the rest.
          </>
        ) : (
          'A pen reads nothing of it.'
        )}
        {read.wide && ` Its charges are ${Math.round(read.gap * 100)} % apart, so the guess is weak.`}
        {read.supposed.map((words) => ` ${words}`)}
      </div>
    </div>
  );
}

export const mgText = (mg: number) =>
  mg >= 100 ? String(Math.round(mg)) : mg >= 10 ? mg.toFixed(1) : mg >= 0.1 ? mg.toFixed(1) : mg.toFixed(2);
