import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import Table from 'react-bootstrap/Table';
import { USE_WORDS, type UseRuleValues, type UseRuleView } from '../../contract/recipes.ts';
import { newId } from '../shell/api.ts';
import { dayMonthYear } from '../shell/format.ts';
import { FormModal } from '../shell/form-modal.tsx';
import { LabelledField } from '../shell/labelled-field.tsx';
import { otherProblems, problemAt, useAct } from '../shell/use-act.ts';
import { asNumber } from './start-values.ts';

/** What each kind of use starts from: its own strength, band, limit and pH. Changed from a day on; batches made before keep theirs. */
export function RulesCard({ rules }: { rules: readonly UseRuleView[] }) {
  const [changing, setChanging] = useState<UseRuleView>();
  return (
    <section className="sheet batch-table" aria-label="What each use starts from">
      <h2>What each use starts from</h2>
      <Table size="sm" responsive className="mb-0">
        <caption className="visually-hidden">Defaults of each use</caption>
        <thead>
          <tr>
            <th scope="col">Use</th>
            <th scope="col" className="text-end">
              Over base
            </th>
            <th scope="col">Comfortable</th>
            <th scope="col">Never past</th>
            <th scope="col">pH</th>
            <th scope="col">Hold</th>
            <th scope="col">Since</th>
            <th scope="col">
              <span className="visually-hidden">Change</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rules.map((r) => (
            <tr key={r.use}>
              <th scope="row">{USE_WORDS[r.use]}</th>
              <td className="text-end num">{r.values.netPpm > 0 ? r.values.netPpm : '—'}</td>
              <td className="nowrap">{r.use === 'water' ? '—' : bandWords(r.values)}</td>
              <td className="nowrap">{r.use === 'water' ? '—' : `+${r.values.hard}${unitOf(r.values)}`}</td>
              <td className="nowrap">
                {r.values.phLow} to {r.values.phHigh}
              </td>
              <td className="nowrap">{r.values.holdMinutes === null ? '—' : `${r.values.holdMinutes} min`}</td>
              <td className="nowrap">
                {r.since === null ? 'as it came' : dayMonthYear(r.since.slice(0, 10))}
                {r.earlier.length > 0 && (
                  <span
                    className="small"
                    title={r.earlier
                      .map(
                        (e) => `${e.since?.slice(0, 10) ?? 'as it came'}: ${e.values.netPpm}, ${bandWords(e.values)}`,
                      )
                      .join('\n')}
                  >
                    {' '}
                    · {r.earlier.length} before
                  </span>
                )}
              </td>
              <td>
                <Button
                  variant="link"
                  size="sm"
                  className="p-0"
                  aria-label={`Change ${USE_WORDS[r.use]}`}
                  onClick={() => setChanging(r)}
                >
                  Change
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      <p className="small mb-0">
        A soak that stays in the pot wants pH {rules.find((r) => r.use === 'soak')?.staying?.phLow ?? 5.8} to{' '}
        {rules.find((r) => r.use === 'soak')?.staying?.phHigh ?? 6.2}: the clay lifts it.
      </p>
      {changing && <RuleForm rule={changing} onClose={() => setChanging(undefined)} />}
    </section>
  );
}

const FIELDS = ['netPpm', 'below', 'above', 'hard', 'phLow', 'phHigh', 'holdMinutes'] as const;
const unitOf = (v: UseRuleValues) => (v.bandIn === 'percent' ? ' %' : ' ppm');
const bandWords = (v: UseRuleValues) => `−${v.below} to +${v.above}${unitOf(v)}`;

function RuleForm({ rule, onClose }: { rule: UseRuleView; onClose(): void }) {
  const { send, problems, busy } = useAct('/api/bench/recipes/acts');
  const v = rule.values;
  const [text, setText] = useState({
    netPpm: String(v.netPpm),
    below: String(v.below),
    above: String(v.above),
    hard: String(v.hard),
    phLow: String(v.phLow),
    phHigh: String(v.phHigh),
    hold: v.holdMinutes === null ? '' : String(v.holdMinutes),
  });
  const [bandIn, setBandIn] = useState(v.bandIn);
  const save = async () => {
    const values = {
      netPpm: asNumber(text.netPpm),
      bandIn,
      below: asNumber(text.below),
      above: asNumber(text.above),
      hard: asNumber(text.hard),
      phLow: asNumber(text.phLow),
      phHigh: asNumber(text.phHigh),
      holdMinutes: text.hold.trim() === '' ? null : asNumber(text.hold),
    };
    if (await send({ kind: 'rule', id: newId(), use: rule.use, values }, `What a ${rule.use} starts from`)) onClose();
  };
  const field = (key: keyof typeof text, label: string, hint?: string) => (
    <LabelledField label={label} error={problemAt(problems, key === 'hold' ? 'holdMinutes' : key)} hint={hint}>
      {(a) => (
        <Form.Control
          {...a}
          inputMode="decimal"
          value={text[key]}
          onChange={(e) => setText({ ...text, [key]: e.target.value })}
        />
      )}
    </LabelledField>
  );
  return (
    <FormModal
      title={`What a ${rule.use === 'water' ? 'plain water' : rule.use} starts from`}
      keep="Keep it from now on"
      onClose={onClose}
      submit={(e) => (e.preventDefault(), void save())}
      busy={busy}
      wrong={otherProblems(problems, FIELDS)}
    >
      <p className="small">
        It holds for batches and recipes made from now on. What was made before keeps the band it was made by.
      </p>
      <div className="two">
        {field('netPpm', 'Over base, ppm')}
        <LabelledField label="The band is in" error={undefined}>
          {(a) => (
            <Form.Select {...a} value={bandIn} onChange={(e) => setBandIn(e.target.value as typeof bandIn)}>
              <option value="percent">percent of the aim</option>
              <option value="ppm">ppm on the pen</option>
            </Form.Select>
          )}
        </LabelledField>
        {field('below', 'Comfortable from below')}
        {field('above', 'to above')}
        {field('hard', 'Never past, above')}
        {field('hold', 'Hold, min', 'empty: it is not held')}
        {field('phLow', 'pH from')}
        {field('phHigh', 'pH to')}
      </div>
    </FormModal>
  );
}
