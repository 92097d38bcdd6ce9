import Form from 'react-bootstrap/Form';
import { CHLORINE_WORDS, CHLORINES } from '../../contract/kinds.ts';
import {
  ALKALINITY_UNITS,
  ANALYSIS_ITEMS,
  ANALYSIS_UNITS,
  analysisMmolL,
  type AnalysisItem,
  type AnalysisUnit,
} from '../../core/solution/index.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { problemAt } from '../shell/use-act.ts';
import { TypedField, type FieldsProps } from './typed-field.tsx';
import { analysisField, analysisLines, analysisUnitField, USUAL_UNIT } from './water-texts.ts';

const ITEM_WORDS: Record<AnalysisItem, string> = {
  Ca: 'calcium',
  Mg: 'magnesium',
  hardness: 'hardness',
  Na: 'sodium',
  K: 'potassium',
  NH4: 'ammonium',
  alkalinity: 'alkalinity (bicarbonate)',
  SO4: 'sulphate',
  Cl: 'chloride',
  NO3: 'nitrate',
  PO4: 'phosphate',
  SiO2: 'silica',
};
const fits = (item: AnalysisItem) => (unit: AnalysisUnit) => analysisMmolL({ item, value: 1, unit }) !== undefined;

/** Chlorine, cost, and what is known of a water beyond its reading: nothing, a drop kit, or the whole analysis. */
export function WaterKnownFields(props: FieldsProps) {
  const { texts, change, problems } = props;
  return (
    <>
      <div className="pair">
        <LabelledField label="Chlorine in it" error={problemAt(problems, 'chlorine')}>
          {(a) => (
            <Form.Select {...a} value={texts['chlorine']} onChange={(e) => change({ chlorine: e.target.value })}>
              {CHLORINES.map((c) => (
                <option key={c} value={c}>
                  {CHLORINE_WORDS[c]}
                </option>
              ))}
            </Form.Select>
          )}
        </LabelledField>
        <TypedField
          {...props}
          label="Cost of a litre"
          name="costPerL"
          numeric
          hint="in the money of the settings; empty: not counted"
        />
      </div>
      <fieldset className="recipe-fields">
        <legend>Alkalinity and hardness</legend>
        {(
          [
            ['none', 'Nobody tested it'],
            ['kit', 'By a drop kit'],
            ['analysis', 'From an analysis (the supplier’s, or a laboratory’s)'],
          ] as const
        ).map(([value, words]) => (
          <Form.Check
            key={value}
            type="radio"
            id={`known-${value}`}
            name="knownBy"
            label={words}
            checked={(texts['knownBy'] ?? 'none') === value}
            onChange={() => change({ knownBy: value })}
          />
        ))}
        {texts['knownBy'] === 'kit' && (
          <div className="pair">
            <Figure
              {...props}
              label="Alkalinity (KH)"
              name="kh"
              unitName="khUnit"
              error={problemAt(problems, 'alkalinity.value')}
            />
            <Figure
              {...props}
              label="Hardness (GH), if tested"
              name="gh"
              unitName="ghUnit"
              error={problemAt(problems, 'hardness.value')}
            />
          </div>
        )}
        {texts['knownBy'] === 'analysis' && <AnalysisFields {...props} />}
        {(texts['knownBy'] ?? 'none') === 'none' && (
          <p className="small mb-0">
            Then it is guessed from the reading, and predictions of pH say how wide that leaves them.
          </p>
        )}
      </fieldset>
    </>
  );
}

function Figure({
  texts,
  change,
  label,
  name,
  unitName,
  error,
}: FieldsProps & { label: string; name: string; unitName: string; error: string | undefined }) {
  return (
    <LabelledField label={label} error={error}>
      {(a) => (
        <div className="with-unit">
          <Form.Control
            {...a}
            inputMode="decimal"
            autoComplete="off"
            value={texts[name] ?? ''}
            onChange={(e) => change({ [name]: e.target.value })}
          />
          <Form.Select
            aria-label={`Unit of ${label}`}
            value={texts[unitName]}
            onChange={(e) => change({ [unitName]: e.target.value })}
          >
            {ALKALINITY_UNITS.map((unit) => (
              <option key={unit} value={unit}>
                {unit}
              </option>
            ))}
          </Form.Select>
        </div>
      )}
    </LabelledField>
  );
}

function AnalysisFields(props: FieldsProps) {
  const { texts, change, problems } = props;
  const order = analysisLines(texts).map((line) => line.item);
  return (
    <div className="analysis">
      {ANALYSIS_ITEMS.map((item) => (
        <LabelledField
          key={item}
          label={ITEM_WORDS[item]}
          error={order.includes(item) ? problemAt(problems, `lines.${order.indexOf(item)}.value`) : undefined}
        >
          {(a) => (
            <div className="with-unit">
              <Form.Control
                {...a}
                inputMode="decimal"
                autoComplete="off"
                value={texts[analysisField(item)] ?? ''}
                onChange={(e) => change({ [analysisField(item)]: e.target.value })}
              />
              <Form.Select
                aria-label={`Unit of ${ITEM_WORDS[item]}`}
                value={texts[analysisUnitField(item)] ?? USUAL_UNIT[item]}
                onChange={(e) => change({ [analysisUnitField(item)]: e.target.value })}
              >
                {ANALYSIS_UNITS.filter(fits(item)).map((unit) => (
                  <option key={unit} value={unit}>
                    {unit}
                  </option>
                ))}
              </Form.Select>
            </div>
          )}
        </LabelledField>
      ))}
      <TypedField
        {...props}
        label="pH"
        name="analysisPh"
        numeric
        hint={problemAt(problems, 'known.ph') ?? 'empty: at rest with air'}
      />
      {problemAt(problems, 'known.lines') && (
        <div className="field-error wide" role="alert">
          {problemAt(problems, 'known.lines')}
        </div>
      )}
    </div>
  );
}
