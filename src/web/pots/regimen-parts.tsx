import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { FEED_WHATS, SOAK_WHATS } from '../../core/regimen/regimen.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { problemAt, type Problems } from '../shell/use-act.ts';
import {
  alsoWords,
  DOSE_BY,
  DOSE_FIGURES,
  DOSE_LABELS,
  FEED_LABELS,
  MONTH_LETTERS,
  MONTH_NAMES,
  type FeedTexts,
  type RegimenTexts,
  type SoakTexts,
} from './regimen-texts.ts';
import { SOAKS } from '../../core/regimen/index.ts';

export type Part = { texts: RegimenTexts; change(part: Partial<RegimenTexts>): void; problems: Problems };

/** A figure with its label and what is wrong with it. */
export function Figure({
  label,
  value,
  at,
  problems,
  hint,
  set,
}: {
  label: string;
  value: string;
  at: string;
  problems: Problems;
  hint?: string | undefined;
  set(v: string): void;
}) {
  return (
    <LabelledField label={label} error={problemAt(problems, at)} hint={hint}>
      {(a) => (
        <Form.Control
          {...a}
          inputMode="decimal"
          autoComplete="off"
          value={value}
          onChange={(e) => set(e.target.value)}
        />
      )}
    </LabelledField>
  );
}

/** How much of it goes in: to a strength, or by measure. */
export function HowMuch({
  feed,
  at,
  problems,
  hint,
  set,
}: {
  feed: FeedTexts;
  at: string;
  problems: Problems;
  hint?: string;
  set(part: Partial<FeedTexts>): void;
}) {
  return (
    <>
      <LabelledField label="How much" error={undefined}>
        {(a) => (
          <Form.Select
            {...a}
            value={feed.by}
            onChange={(e) => {
              const by = e.target.value as FeedTexts['by'];
              set({ by, dose: by === 'label' ? '50' : by === 'net' ? '' : '1' });
            }}
          >
            {DOSE_BY.map((by) => (
              <option key={by} value={by}>
                {DOSE_LABELS[by]}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      {feed.by === 'net' ? (
        <Figure
          label={DOSE_FIGURES.net}
          value={feed.netPpm}
          at={`${at}.netPpm`}
          problems={problems}
          hint={hint}
          set={(netPpm) => set({ netPpm })}
        />
      ) : (
        <Figure
          label={DOSE_FIGURES[feed.by]}
          value={feed.dose}
          at={`${at}.dose.${feed.by === 'label' ? 'share' : 'units'}`}
          problems={problems}
          hint={alsoWords(feed)}
          set={(dose) => set({ dose })}
        />
      )}
    </>
  );
}

/** The rota: what is poured, watering after watering. */
export function FeedsFields({ texts, change, problems }: Part) {
  const set = (i: number, part: Partial<FeedTexts>) =>
    change({ feeds: texts.feeds.map((feed, n) => (n === i ? { ...feed, ...part } : feed)) });
  const add = () =>
    change({
      feeds: [
        ...texts.feeds,
        { what: 'calmag', netPpm: '50', by: 'net', dose: '', phLow: '5.5', phHigh: '6.5', days: '3' },
      ],
    });
  return (
    <fieldset>
      <legend>What is poured{texts.feeds.length > 1 ? ', one watering after another' : ''}</legend>
      {texts.feeds.map((feed, i) => (
        <div key={i} className="regimen-row">
          <LabelledField label={texts.feeds.length > 1 ? `Watering ${i + 1}` : 'At each watering'} error={undefined}>
            {(a) => (
              <Form.Select
                {...a}
                value={feed.what}
                onChange={(e) => set(i, { what: e.target.value as FeedTexts['what'] })}
              >
                {FEED_WHATS.map((what) => (
                  <option key={what} value={what}>
                    {FEED_LABELS[what]}
                  </option>
                ))}
              </Form.Select>
            )}
          </LabelledField>
          {feed.what !== 'plain' && (
            <HowMuch feed={feed} at={`feeds.${i}`} problems={problems} set={(part) => set(i, part)} />
          )}
          <Figure
            label="Days to the next"
            value={feed.days}
            at={`feeds.${i}.days`}
            problems={problems}
            set={(days) => set(i, { days })}
          />
          <Figure
            label="pH from"
            value={feed.phLow}
            at={`feeds.${i}.phLow`}
            problems={problems}
            set={(phLow) => set(i, { phLow })}
          />
          <Figure
            label="to"
            value={feed.phHigh}
            at={`feeds.${i}.phHigh`}
            problems={problems}
            set={(phHigh) => set(i, { phHigh })}
          />
          <Button
            variant="outline-secondary"
            size="sm"
            aria-label={`Leave watering ${i + 1} out`}
            onClick={() => change({ feeds: texts.feeds.filter((_, n) => n !== i) })}
          >
            Leave out
          </Button>
        </div>
      ))}
      {problemAt(problems, 'feeds') && (
        <p className="field-error mb-1" role="alert">
          {problemAt(problems, 'feeds')}
        </p>
      )}
      <Button variant="outline-secondary" size="sm" onClick={add}>
        Add a watering to the rota
      </Button>
    </fieldset>
  );
}

const FRESH_SOAK: SoakTexts = {
  what: 'magnesium',
  netPpm: '100',
  sio2MgL: '48',
  firstSio2MgL: '',
  phLow: '6.5',
  phHigh: '7',
  holdMinutes: '30',
  months: [4, 5, 6, 7, 8, 9, 10],
  allYearUnderLamps: true,
  sprayBaskets: true,
};

/** Soaks in their months. */
export function SoaksFields({ texts, change, problems }: Part) {
  const set = (i: number, part: Partial<SoakTexts>) =>
    change({ soaks: texts.soaks.map((soak, n) => (n === i ? { ...soak, ...part } : soak)) });
  const add = () => {
    const silicate = texts.soaks.some((soak) => soak.what === 'magnesium');
    change({
      soaks: [
        ...texts.soaks,
        silicate
          ? { ...FRESH_SOAK, what: 'silicate', firstSio2MgL: '100', months: [5, 6, 7, 8, 9], allYearUnderLamps: false }
          : FRESH_SOAK,
      ],
    });
  };
  return (
    <fieldset>
      <legend>Soaks, once a month in season</legend>
      {texts.soaks.map((soak, i) => (
        <div key={i} className="regimen-soak">
          <div className="regimen-row">
            <LabelledField label="Soak" error={problemAt(problems, `soaks.${i}.what`)}>
              {(a) => (
                <Form.Select
                  {...a}
                  value={soak.what}
                  onChange={(e) => set(i, { what: e.target.value as SoakTexts['what'] })}
                >
                  {SOAK_WHATS.map((what) => (
                    <option key={what} value={what}>
                      {SOAKS[what].label}
                    </option>
                  ))}
                </Form.Select>
              )}
            </LabelledField>
            {SOAKS[soak.what].byPen && (
              <Figure
                label="ppm over the water"
                value={soak.netPpm}
                at={`soaks.${i}.netPpm`}
                problems={problems}
                set={(netPpm) => set(i, { netPpm })}
              />
            )}
            {SOAKS[soak.what].silica && (
              <>
                <Figure
                  label="mg/L SiO2"
                  value={soak.sio2MgL}
                  at={`soaks.${i}.sio2MgL`}
                  problems={problems}
                  set={(sio2MgL) => set(i, { sio2MgL })}
                />
                <Figure
                  label="first of a season"
                  value={soak.firstSio2MgL}
                  at={`soaks.${i}.firstSio2MgL`}
                  problems={problems}
                  set={(firstSio2MgL) => set(i, { firstSio2MgL })}
                />
              </>
            )}
            <Figure
              label="Minutes held"
              value={soak.holdMinutes}
              at={`soaks.${i}.holdMinutes`}
              problems={problems}
              set={(holdMinutes) => set(i, { holdMinutes })}
            />
            <Figure
              label="pH from"
              value={soak.phLow}
              at={`soaks.${i}.phLow`}
              problems={problems}
              set={(phLow) => set(i, { phLow })}
            />
            <Figure
              label="to"
              value={soak.phHigh}
              at={`soaks.${i}.phHigh`}
              problems={problems}
              set={(phHigh) => set(i, { phHigh })}
            />
            <Button
              variant="outline-secondary"
              size="sm"
              aria-label={`Leave the ${SOAKS[soak.what].label} soak out`}
              onClick={() => change({ soaks: texts.soaks.filter((_, n) => n !== i) })}
            >
              Leave out
            </Button>
          </div>
          <div className="months" role="group" aria-label={`Months of the ${SOAKS[soak.what].label} soak`}>
            {MONTH_LETTERS.map((letter, m) => {
              const open = soak.months.includes(m + 1);
              return (
                <button
                  key={m}
                  type="button"
                  aria-pressed={open}
                  aria-label={MONTH_NAMES[m]}
                  title={MONTH_NAMES[m]}
                  onClick={() =>
                    set(i, {
                      months: open
                        ? soak.months.filter((x) => x !== m + 1)
                        : [...soak.months, m + 1].sort((a, b) => a - b),
                    })
                  }
                >
                  {letter}
                </button>
              );
            })}
            <span className="small">northern months; turned round south of the equator</span>
          </div>
          {problemAt(problems, `soaks.${i}.months`) && (
            <p className="field-error mb-1" role="alert">
              {problemAt(problems, `soaks.${i}.months`)}
            </p>
          )}
          <div className="d-flex flex-wrap gap-3">
            <Form.Check
              id={`lamps-${i}`}
              type="checkbox"
              label="All year under lamps, where it is warm"
              checked={soak.allYearUnderLamps}
              onChange={(e) => set(i, { allYearUnderLamps: e.target.checked })}
            />
            <Form.Check
              id={`spray-${i}`}
              type="checkbox"
              label="Baskets get it as a leaf spray"
              checked={soak.sprayBaskets}
              onChange={(e) => set(i, { sprayBaskets: e.target.checked })}
            />
          </div>
        </div>
      ))}
      {texts.soaks.length < 3 && (
        <Button variant="outline-secondary" size="sm" onClick={add}>
          Add a soak
        </Button>
      )}
    </fieldset>
  );
}
