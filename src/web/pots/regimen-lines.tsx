import Form from 'react-bootstrap/Form';
import { Figure, type Part } from './regimen-parts.tsx';
import { LabelledField } from '../shell/labelled-field.tsx';
import type { RegimenTexts } from './regimen-texts.ts';
/* The parts of a regimen that are one line each: its water, and what it makes of the plant. */

/** What it is flushed and filled with, how often, and the outer limit. */
export function WaterFields(part: Part) {
  const { texts, change, problems } = part;
  return (
    <fieldset>
      <legend>Water</legend>
      <div className="regimen-row choices">
        <LabelledField label="Flush" error={undefined}>
          {(a) => (
            <Form.Select
              {...a}
              value={texts.flushAt}
              onChange={(e) => change({ flushAt: e.target.value as RegimenTexts['flushAt'] })}
            >
              <option value="watering">at every watering</option>
              <option value="change">at the first of the rota only</option>
              <option value="never">never</option>
            </Form.Select>
          )}
        </LabelledField>
        <Figure
          label="times the reservoir"
          value={texts.flushTimes}
          at="flushTimes"
          problems={problems}
          set={(flushTimes) => change({ flushTimes })}
        />
        <LabelledField label="with" error={undefined}>
          {(a) => (
            <Form.Select
              {...a}
              value={texts.flushWith}
              onChange={(e) => change({ flushWith: e.target.value as RegimenTexts['flushWith'] })}
            >
              <option value="plentiful">what is plentiful, still to finish</option>
              <option value="still">still water only</option>
            </Form.Select>
          )}
        </LabelledField>
        <LabelledField label="Fill with" error={undefined}>
          {(a) => (
            <Form.Select
              {...a}
              value={texts.fillWith ?? ''}
              onChange={(e) => change({ fillWith: (e.target.value || null) as RegimenTexts['fillWith'] })}
            >
              <option value="">as at the bench</option>
              <option value="still">still water</option>
              <option value="tap">tap</option>
            </Form.Select>
          )}
        </LabelledField>
        <Figure
          label="Days at the latest"
          value={texts.latestDays}
          at="latestDays"
          problems={problems}
          hint="empty: none set"
          set={(latestDays) => change({ latestDays })}
        />
      </div>
      <div className="d-flex flex-wrap gap-3">
        {check(part, 'wash', 'Wash the reservoir at the change')}
        {check(part, 'morning', 'Mornings only')}
      </div>
    </fieldset>
  );
}

/** Strength by stage and height, and when soaks rest. */
export function PlantFields(part: Part) {
  const { texts, change, problems } = part;
  return (
    <fieldset>
      <legend>By the plant</legend>
      <div className="regimen-row">
        <Figure
          label="At rest, % of the strength"
          value={texts.restShare}
          at="restShare"
          problems={problems}
          set={(restShare) => change({ restShare })}
        />
        <Figure
          label="Rooting, %"
          value={texts.rootingShare}
          at="rootingShare"
          problems={problems}
          set={(rootingShare) => change({ rootingShare })}
        />
        <Figure
          label="Marked tender, %"
          value={texts.tenderShare}
          at="tenderShare"
          problems={problems}
          set={(tenderShare) => change({ tenderShare })}
        />
        <LabelledField label="In spike and bloom" error={undefined}>
          {(a) => (
            <Form.Select
              {...a}
              value={texts.inBud}
              onChange={(e) => change({ inBud: e.target.value as RegimenTexts['inBud'] })}
            >
              <option value="same">the feed as it is</option>
              <option value="calmag">calcium–magnesium alone</option>
            </Form.Select>
          )}
        </LabelledField>
      </div>
      <div className="d-flex flex-wrap gap-3">
        {check(part, 'soaksOnlyInGrowth', 'No soaks at rest or while rooting')}
        {check(part, 'dryBeforeSoak', 'Let it run dry before a soak')}
        {check(part, 'byHeight', 'Strength by height (vegetables and herbs only)')}
      </div>
    </fieldset>
  );
}

type Checked = 'wash' | 'morning' | 'dryBeforeSoak' | 'byHeight' | 'soaksOnlyInGrowth';

function check({ texts, change }: Part, name: Checked, label: string) {
  return (
    <Form.Check
      id={name}
      type="checkbox"
      label={label}
      checked={texts[name]}
      onChange={(e) => change({ [name]: e.target.checked })}
    />
  );
}
