import Form from 'react-bootstrap/Form';
import { METER_SCALES, scaleFromStandard } from '../../core/quantity/index.ts';
import {
  METER_CONDITION_WORDS,
  METER_CONDITIONS,
  METER_UNITS,
  TOOL_KINDS,
  WATER_KIND_WORDS,
  WATER_KINDS,
} from '../../contract/kinds.ts';
import { largeSign, ppmText } from '../shell/format.ts';
import { readNumber } from '../shell/field-reader.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { problemAt } from '../shell/use-act.ts';
import { TypedField, type FieldsProps } from './typed-field.tsx';
import { WaterKnownFields } from './water-known-fields.tsx';

/** `brief`: the guided first minute asks only for what it needs. */
export function WaterFields(props: FieldsProps & { brief?: boolean }) {
  const { texts, change, brief = false } = props;
  return (
    <>
      <LabelledField label="Which water" error={undefined}>
        {(a) => (
          <Form.Select {...a} value={texts['kind']} onChange={(e) => change({ kind: e.target.value })}>
            {WATER_KINDS.map((kind) => (
              <option key={kind} value={kind}>
                {WATER_KIND_WORDS[kind]}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      <TypedField {...props} label="What you call it" name="name" autoFocus />
      <TypedField {...props} label="Note" name="note" placeholder="hard, chlorinated" />
      {texts['kind'] !== 'tap' && (
        <div className="pair">
          <TypedField {...props} label={`Tank, ${largeSign()}`} name="tankL" numeric hint="empty: no tank" />
          <TypedField {...props} label={`Made or caught a day, ${largeSign()}`} name="perDayL" numeric />
        </div>
      )}
      {brief ? null : <WaterKnownFields {...props} />}
    </>
  );
}

const SCALE_WORDS: Record<string, string> = {
  '0.5': '½ (707 in the standard)',
  '0.64': '0.64 (904)',
  '0.7': '0.7 (989)',
};

export function MeterFields(props: FieldsProps & { brief?: boolean }) {
  const { texts, change, problems, brief = false } = props;
  const ppm = texts['quantity'] === 'ppm';
  return (
    <>
      <LabelledField label="What it reads" error={undefined}>
        {(a) => (
          <Form.Select
            {...a}
            value={texts['quantity']}
            onChange={(e) => change({ quantity: e.target.value, resolution: e.target.value === 'pH' ? '0.1' : '1' })}
          >
            <option value="ppm">strength (a TDS pen, a conductivity meter)</option>
            <option value="pH">pH</option>
          </Form.Select>
        )}
      </LabelledField>
      {!brief && !ppm && (
        <LabelledField label="What kind" error={undefined}>
          {(a) => (
            <Form.Select
              {...a}
              value={texts['kind']}
              onChange={(e) =>
                change({
                  kind: e.target.value,
                  resolution: e.target.value === 'kit' ? '0.5' : '0.1',
                  checkEveryDays: e.target.value === 'kit' ? '365' : '30',
                })
              }
            >
              <option value="pen">a pen or meter</option>
              <option value="kit">a drop kit with a colour card</option>
            </Form.Select>
          )}
        </LabelledField>
      )}
      {!brief && ppm && (
        <LabelledField label="Its display counts in" error={undefined}>
          {(a) => (
            <Form.Select
              {...a}
              value={texts['unit']}
              onChange={(e) => change({ unit: e.target.value, resolution: e.target.value === 'mS/cm' ? '0.01' : '1' })}
            >
              {METER_UNITS.map((unit) => (
                <option key={unit} value={unit}>
                  {unit === 'ppm' ? 'ppm' : `${unit} (conductivity itself)`}
                </option>
              ))}
            </Form.Select>
          )}
        </LabelledField>
      )}
      <TypedField {...props} label="What you call it" name="name" placeholder={ppm ? 'Grey pen' : 'pH pen'} autoFocus />
      {ppm && (texts['unit'] ?? 'ppm') === 'ppm' && <ScaleFields texts={texts} change={change} problems={problems} />}
      <div className="pair">
        <TypedField {...props} label="Smallest step of its display" name="resolution" numeric />
        {!brief && <TypedField {...props} label="Check it every, days" name="checkEveryDays" numeric />}
      </div>
      {!brief && texts['kind'] !== 'kit' && (
        <>
          <LabelledField label="How it is" error={undefined}>
            {(a) => (
              <Form.Select {...a} value={texts['condition']} onChange={(e) => change({ condition: e.target.value })}>
                {METER_CONDITIONS.map((c) => (
                  <option key={c} value={c}>
                    {METER_CONDITION_WORDS[c]}
                  </option>
                ))}
              </Form.Select>
            )}
          </LabelledField>
          <Form.Check
            type="checkbox"
            id="compensated"
            label="It brings its reading to 25 °C by itself (most do)"
            checked={texts['compensated'] === 'yes'}
            onChange={(e) => change({ compensated: e.target.checked ? 'yes' : '' })}
          />
        </>
      )}
    </>
  );
}

/** The pen's scale: printed on it, found with the standard, or guessed and said to be. */
export function ScaleFields({ texts, change, problems }: Omit<FieldsProps, 'room'>) {
  const from = texts['scaleFrom'];
  const shown = readNumber(texts['standard'] ?? '');
  const found = from === 'standard' && shown !== undefined && shown > 0 ? scaleFromStandard(shown) : undefined;
  const choose = (text: string) => {
    const typed = readNumber(text);
    const result = typed !== undefined && typed > 0 ? scaleFromStandard(typed) : undefined;
    change({ standard: text, scale: result?.kind === 'found' ? String(result.scale) : '' });
  };
  return (
    <fieldset className="scale-fields">
      <legend>Its scale: what makes conductivity into ppm</legend>
      {(
        [
          ['label', 'It is printed on the pen or in its leaflet', { scale: texts['scale'] || '0.5' }],
          ['standard', 'I do not know: dip it in the 1413 µS/cm standard', { scale: '' }],
          ['guess', 'I cannot tell now: take ½ as a guess', { scale: '0.5' }],
        ] as const
      ).map(([value, words, more]) => (
        <Form.Check
          key={value}
          type="radio"
          id={`scale-${value}`}
          name="scaleFrom"
          label={words}
          checked={from === value}
          onChange={() => change({ scaleFrom: value, ...more })}
        />
      ))}
      {from === 'label' && (
        <LabelledField label="Scale" error={problemAt(problems, 'scale')}>
          {(a) => (
            <Form.Select {...a} value={texts['scale']} onChange={(e) => change({ scale: e.target.value })}>
              {METER_SCALES.map((scale) => (
                <option key={scale} value={scale}>
                  {SCALE_WORDS[String(scale)]}
                </option>
              ))}
            </Form.Select>
          )}
        </LabelledField>
      )}
      {from === 'standard' && (
        <LabelledField
          label="What it shows in the standard, ppm"
          error={
            found?.kind === 'between'
              ? `${texts['standard']} lies between 707, 904 and 989. Rinse the pen, warm the standard to 25 °C and dip again, or take ½ as a guess.`
              : problemAt(problems, 'scale')
          }
          hint={
            found?.kind === 'found'
              ? `That is the ${found.scale === 0.5 ? '½' : found.scale} scale: it should show ${ppmText(found.expectedPpm)}.`
              : '707 is ½, 904 is 0.64, 989 is 0.7'
          }
        >
          {(a) => (
            <Form.Control
              {...a}
              inputMode="decimal"
              autoComplete="off"
              value={texts['standard'] ?? ''}
              onChange={(e) => choose(e.target.value)}
            />
          )}
        </LabelledField>
      )}
      {from === 'guess' && (
        <p className="small mb-0">
          Strengths are then said to be on a guessed scale. Changing it later keeps the figures on your pen as they are.
        </p>
      )}
    </fieldset>
  );
}

const TOOL_WORDS: Record<(typeof TOOL_KINDS)[number], string> = {
  dropper: 'dropper',
  syringe: 'syringe',
  spoon: 'spoon, scoop, cap, a pinch, a mark on a dropper',
  scale: 'scale (grams)',
};

/** What a tool is called until it is named; goes with its kind. */
const TOOL_NAMES: Record<(typeof TOOL_KINDS)[number], string> = {
  dropper: 'Dropper',
  syringe: 'Syringe',
  spoon: 'Spoon',
  scale: 'Scale',
};
const asTool = (name: string | undefined, kind: string) =>
  Object.values(TOOL_NAMES).includes(name ?? '')
    ? { kind, name: TOOL_NAMES[kind as (typeof TOOL_KINDS)[number]] }
    : { kind };

export function ToolFields(props: FieldsProps) {
  const { texts, change } = props;
  const kind = texts['kind'];
  return (
    <>
      <LabelledField label="What it is" error={undefined}>
        {(a) => (
          <Form.Select {...a} value={kind} onChange={(e) => change(asTool(texts['name'], e.target.value))}>
            {TOOL_KINDS.map((k) => (
              <option key={k} value={k}>
                {TOOL_WORDS[k]}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      <TypedField
        {...props}
        label="What you call it"
        name="name"
        placeholder={kind === 'dropper' ? 'Glass dropper' : ''}
        autoFocus
      />
      {kind === 'dropper' && (
        <TypedField
          {...props}
          label="Drops to make 1 mL"
          name="dropsPerMl"
          numeric
          hint="Count them into a syringe once. Empty: not counted, and said to be a guess."
        />
      )}
      {kind === 'syringe' && (
        <div className="pair">
          <TypedField {...props} label="Holds, mL" name="capacityMl" numeric />
          <TypedField {...props} label="Smallest mark, mL" name="stepMl" numeric />
        </div>
      )}
      {kind === 'spoon' && (
        <TypedField
          {...props}
          label="Holds, mL"
          name="capacityMl"
          numeric
          hint="A US teaspoon holds 4.93 mL, a metric one 5. For a mark on a dropper: what it holds filled to the mark. Empty: not known how much, and nothing is measured with it until it is: fill it from a syringe, or weigh the water it holds: 1 g is 1 mL; of a pinch, ten pinches."
        />
      )}
      {kind === 'scale' && <TypedField {...props} label="Smallest step, g" name="stepG" numeric />}
    </>
  );
}

export function VesselFields(props: FieldsProps) {
  const { texts, change } = props;
  return (
    <>
      <TypedField {...props} label="What you call it" name="name" placeholder="Bucket" autoFocus />
      <TypedField {...props} label={`Holds, ${largeSign()}`} name="capacityL" numeric />
      <LabelledField label="Made of" error={problemAt(props.problems, 'material')}>
        {(a) => (
          <Form.Select
            {...a}
            value={texts['material']}
            onChange={(e) =>
              change({ material: e.target.value, heatProof: ['steel', 'enamel'].includes(e.target.value) ? 'yes' : '' })
            }
          >
            {[
              ...new Set([
                'plastic',
                'glass',
                'steel',
                'enamel',
                'zinc',
                'earthenware',
                texts['material'] ?? 'plastic',
              ]),
            ].map((m) => (
              <option key={m}>{m}</option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      <Form.Check
        type="checkbox"
        id="heat-proof"
        label="Stands hot water (for stocks made from solids)"
        checked={texts['heatProof'] === 'yes'}
        onChange={(e) => change({ heatProof: e.target.checked ? 'yes' : '' })}
      />
    </>
  );
}
