import Form from 'react-bootstrap/Form';
import { LabelledField } from '../shell/labelled-field.tsx';
import { otherProblems, problemAt, type Problems } from '../shell/use-act.ts';
import { Figure, HowMuch } from './regimen-parts.tsx';
import type { FeedTexts, RegimenTexts } from './regimen-texts.ts';

/** The first regimen of a collection: one weak feed, its few figures only. */
export function FirstRegimenFields({
  texts,
  change,
  problems,
}: {
  texts: RegimenTexts;
  change(part: Partial<RegimenTexts>): void;
  problems: Problems;
}) {
  const feed = texts.feeds[0]!;
  const set = (part: Partial<FeedTexts>) => change({ feeds: [{ ...feed, ...part }] });
  const other = otherProblems(problems, ['name', 'netPpm', 'days', 'flushTimes', 'phLow', 'phHigh']);
  return (
    <>
      <LabelledField label="Name" error={problemAt(problems, 'name')}>
        {(a) => (
          <Form.Control
            {...a}
            autoFocus
            autoComplete="off"
            value={texts.name}
            onChange={(e) => change({ name: e.target.value })}
          />
        )}
      </LabelledField>
      <div className="pair">
        <HowMuch
          feed={feed}
          at="feeds.0"
          problems={problems}
          hint="orchids, every watering: 75 to 125, best near 90"
          set={set}
        />
      </div>
      <div className="pair">
        <Figure
          label="Every so many days"
          value={feed.days}
          at="days"
          problems={problems}
          set={(days) => set({ days })}
        />
      </div>
      <div className="pair">
        <Figure
          label="Flush, times the reservoir"
          value={texts.flushTimes}
          at="flushTimes"
          problems={problems}
          hint="three, by rule of thumb"
          set={(flushTimes) => change({ flushTimes })}
        />
        <Figure label="pH from" value={feed.phLow} at="phLow" problems={problems} set={(phLow) => set({ phLow })} />
        <Figure label="to" value={feed.phHigh} at="phHigh" problems={problems} set={(phHigh) => set({ phHigh })} />
      </div>
      {other && (
        <p className="field-error mb-0" role="alert">
          {other}
        </p>
      )}
    </>
  );
}
