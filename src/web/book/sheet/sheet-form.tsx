import Form from 'react-bootstrap/Form';
import type { ShelfRoom } from '../../../contract/shelf.ts';
import { DAY_FORMS, type ColumnRole, type DayForm, type DecimalMark } from '../../../core/records/index.ts';
import type { VolumeUnit } from '../../../core/quantity/index.ts';
import { LabelledField } from '../../shell/labelled-field.tsx';
import type { Problems } from '../../shell/use-act.ts';
import { isRemembered, type SheetDraft } from './sheet-draft.ts';
import type { PotNamed } from './sheet-words.ts';
import { DAY_FORM_WORDS, ROLE_WORDS } from './sheet-words.ts';

type Props = {
  draft: SheetDraft;
  change(to: Partial<SheetDraft>): void;
  room: ShelfRoom;
  pots: readonly PotNamed[];
  problems: Problems;
};
type Option = readonly [string, string];
/** What of it is one of several. */
type Chosen = Exclude<
  keyof SheetDraft,
  'columns' | 'pots' | 'mended' | 'head' | 'usualPour' | 'lastOfDay' | 'waterEcUsCm' | 'aboutEcUsCm' | 'aboutPh'
>;

const STRENGTHS: readonly Option[] = [
  ['0.5', 'ppm, 0.5 scale (500)'],
  ['0.64', 'ppm, 0.64 scale'],
  ['0.7', 'ppm, 0.7 scale (700)'],
  ['µS/cm', 'conductivity, µS/cm'],
  ['mS/cm', 'conductivity, mS/cm'],
];
const VOLUMES: readonly (readonly [VolumeUnit, string])[] = [
  ['mL', 'mL'],
  ['L', 'L'],
  ['usFluidOunce', 'fl oz (US)'],
  ['imperialFluidOunce', 'fl oz (imperial)'],
  ['usCup', 'cups (US)'],
];

/** How its days and figures are written, in which units, and what was poured: guessed where the table tells, asked where it does not. */
export function SheetForm({ draft, change, room, pots, problems }: Props) {
  const has = (...roles: ColumnRole[]) => draft.columns.some((role) => roles.includes(role));
  const { choice } = fieldsOf({ draft, change, problems });
  const pens = (quantity: 'ppm' | 'pH') => things(room.meters.filter(({ values }) => values.quantity === quantity));
  const waters = things(room.waters);
  const setWhat = (what: string) => ({
    what: what as SheetDraft['what'],
    // What a line of the other kind cannot hold is left out.
    columns: draft.columns.map((role) =>
      ROLE_WORDS[what as SheetDraft['what']].some(([is]) => is === role) ? role : 'skip',
    ),
  });
  return (
    <div className="sheet-form">
      {choice(
        'Each line is',
        'what',
        [
          ['waterings', 'a watering'],
          ['readings', 'a reading, nothing poured'],
        ],
        setWhat,
        {
          hint:
            draft.what === 'readings'
              ? 'Readings alone teach Drift little: it learns from what was poured and what came out.'
              : 'What stood in the pot was read, then it was filled anew.',
        },
      )}
      {choice(
        'Days are written',
        'dayForm',
        DAY_FORMS.map((form): Option => [form, DAY_FORM_WORDS[form]]),
        (value) => ({ dayForm: value as DayForm }),
        {
          hint: draft.dayForm === '' ? 'These days could be either.' : undefined,
        },
      )}
      {choice(
        'Decimals',
        'mark',
        [
          ['point', 'point, 5.8'],
          ['comma', 'comma, 5,8'],
        ],
        (value) => ({ mark: value as DecimalMark }),
      )}
      {!has('pot') &&
        choice(
          'All of it is of the pot',
          'potId',
          pots.map(({ id, code, plant }): Option => [id, plant ? `${code}, ${plant}` : code]),
          set('potId'),
        )}
      {has('outStrength', 'inStrength') &&
        choice('Strengths are in', 'strength', STRENGTHS, (value) => ({ strength: value }))}
      {has('outStrength', 'inStrength') &&
        choice('Kept under the pen', 'ppmMeterId', pens('ppm'), set('ppmMeterId'), {
          hint: 'Changed to its scale. A pen once found off taints them as it does its own.',
        })}
      {has('outPh', 'inPh') &&
        choice('pH read with', 'phMeterId', pens('pH'), set('phMeterId'), { none: 'nobody knows' })}
      {has('poured', 'flushed', 'left') &&
        choice('Volumes are in', 'volume', VOLUMES, (value) => ({ volume: value as VolumeUnit | '' }))}
      <PouredFields draft={draft} change={change} room={room} problems={problems} />
      {has('flushed') && choice('Flushed with the water', 'flushWaterId', waters, set('flushWaterId'))}
      {draft.what === 'waterings' && (
        <Form.Check
          id="usual-pour"
          type="checkbox"
          className="wide"
          label={
            has('poured')
              ? 'Where a line has no amount, take what the pot is filled with today'
              : 'Take it that each was filled as it is today'
          }
          checked={draft.usualPour}
          onChange={(e) => change({ usualPour: e.target.checked })}
        />
      )}
      {draft.what === 'readings' && (
        <Form.Check
          id="last-of-day"
          type="checkbox"
          className="wide"
          label="Of several readings of a pot on one day, take the last"
          checked={draft.lastOfDay}
          onChange={(e) => change({ lastOfDay: e.target.checked })}
        />
      )}
      <Form.Check
        id="has-head"
        type="checkbox"
        className="wide"
        label="The first line names the columns"
        checked={draft.head}
        onChange={(e) => change({ head: e.target.checked })}
      />
    </div>
  );
}

/** What its pots were filled with: as columns tell it, or as it is remembered. */
function PouredFields({ draft, change, room, problems }: Omit<Props, 'pots'>) {
  const has = (...roles: ColumnRole[]) => draft.columns.some((role) => roles.includes(role));
  const { choice, figure } = fieldsOf({ draft, change, problems });
  return (
    <>
      {isRemembered(draft) && (
        <>
          {figure(
            'Poured in, about, ppm',
            'aboutEcUsCm',
            'aboutPpm',
            'No column tells it: as far as you remember. Drift reckons with it; nowhere is it shown as read.',
          )}
          {!has('inPh') && figure('At about pH', 'aboutPh', 'aboutPhText')}
        </>
      )}
      {(has('inStrength', 'inPh') || isRemembered(draft)) && (
        <>
          {choice('Mixed with the water', 'waterId', things(room.waters), set('waterId'))}
          {figure(
            'That water read, ppm',
            'waterEcUsCm',
            'waterPpm',
            'As far as you remember; left empty, what it read by then here.',
          )}
          {choice(
            'And the feed',
            'productId',
            things(room.products.filter(({ values }) => values.kind === 'feed')),
            set('productId'),
            { none: 'none, plain water' },
          )}
        </>
      )}
    </>
  );
}

const things = (of: readonly { id: string; retiredOn: string | null; values: { name: string } }[]): Option[] =>
  of.map(({ id, retiredOn, values }) => [id, retiredOn === null ? values.name : `${values.name}, put away`]);

/** The fields of the form, each with what is wrong at it. */
function fieldsOf({ draft, change, problems }: Pick<Props, 'draft' | 'change' | 'problems'>) {
  const choice = (
    label: string,
    key: Chosen,
    options: readonly Option[],
    set: (value: string) => Partial<SheetDraft>,
    extra: { none?: string; hint?: string } = {},
  ) => (
    <LabelledField label={label} error={problems[key]} hint={extra.hint}>
      {(a) => (
        <Form.Select {...a} value={draft[key] ?? ''} onChange={(e) => change(set(e.target.value))}>
          {(extra.none !== undefined || !draft[key]) && <option value="">{extra.none ?? 'choose …'}</option>}
          {options.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </Form.Select>
      )}
    </LabelledField>
  );
  const figure = (label: string, field: string, key: 'waterPpm' | 'aboutPpm' | 'aboutPhText', hint?: string) => (
    <LabelledField label={label} error={problems[field]} hint={hint}>
      {(a) => (
        <Form.Control
          {...a}
          inputMode="decimal"
          autoComplete="off"
          value={draft[key]}
          onChange={(e) => change({ [key]: e.target.value })}
        />
      )}
    </LabelledField>
  );
  return { choice, figure };
}

const set = (key: keyof SheetDraft) => (value: string) =>
  ({ [key]: value === '' ? null : value }) as Partial<SheetDraft>;
