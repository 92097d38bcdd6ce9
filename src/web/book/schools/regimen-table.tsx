import type { ArmCompared, RegimenCompared, RegimensCompared } from '../../../contract/regimens-compared.ts';
import { SCHOOL_TEXTS } from '../../../core/regimen/index.ts';
import type { TurnMeasure } from '../../../contract/turns.ts';
import { MEASURE } from '../turns/turn-words.ts';
import { Dots } from './dots.tsx';
import { saidOf, setAgainst, standsAlone, standsOn } from './schools-words.ts';

/** A row a regimen, a column a measure: its mean, its pots as dots, and what may be said against the other. */
export function RegimenTable({ view }: { view: RegimensCompared }) {
  return (
    <table className="school-table stacks">
      <thead>
        <tr>
          <th scope="col">Regimen</th>
          {view.measures.map(({ key }) => (
            <th key={key} scope="col">
              {MEASURE[key].name}
              <span className="small">{ofPots(MEASURE[key].of)}</span>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {view.regimens.map((regimen, i) => (
          <Row key={regimen.id} regimen={regimen} at={i} view={view} />
        ))}
      </tbody>
    </table>
  );
}

function Row({ regimen, at, view }: { regimen: RegimenCompared; at: number; view: RegimensCompared }) {
  const arms = view.measures.map(({ arms: all }) => all[at]!);
  const isOther = regimen.id === view.against;
  const alone = !isOther && standsAlone(arms);
  const other = view.regimens.find(({ id }) => id === view.against)!.name;
  return (
    <tr className={isOther ? 'other' : ''}>
      <th scope="row">
        {regimen.name}
        <span className="small">
          {regimen.pots} {regimen.pots === 1 ? 'pot' : 'pots'}, {schoolTitle(regimen.school)}
        </span>
        {isOther && <span className="said">the others are set against it</span>}
        {!isOther && <span className="said">{setAgainst(arms)}</span>}
        {alone && (
          <span className="said">
            Too few of its pots share a place with pots of {other}: nothing is set against it.
          </span>
        )}
      </th>
      {view.measures.map(({ key, arms: all }, i) => (
        <Cell key={key} of={key} arm={arms[i]!} all={all} row={arms} silent={isOther || alone} />
      ))}
    </tr>
  );
}

function Cell({
  of,
  arm,
  all,
  row,
  silent,
}: {
  of: TurnMeasure;
  arm: ArmCompared;
  all: readonly ArmCompared[];
  /** The same regimen's of the other measures. */
  row: readonly ArmCompared[];
  silent: boolean;
}) {
  const { name, text, unit, span } = MEASURE[of];
  if (arm.mean === null)
    return (
      <td data-of={name}>
        <span className="said">not read</span>
      </td>
    );
  const each = arm.pots.map(({ code, value }) => `${code} ${text(value)}`).join(', ');
  const verdict = silent || arm.against === null ? undefined : saidOf(of, arm.against);
  return (
    <td data-of={name}>
      <b className="num">{text(arm.mean)}</b> <span className="small">{unit()}</span>
      <Dots arm={arm} all={all} span={span} words={each} />
      {verdict && (
        <span className={`said ${verdict.tone}`}>
          {verdict.words}
          <span className="range">{standsOn(of, arm.against!, row)}</span>
        </span>
      )}
    </td>
  );
}

/** What its school is called. */
const schoolTitle = (school: RegimenCompared['school']) =>
  SCHOOL_TEXTS.find((text) => text.school === school)?.title.toLowerCase() ?? 'your own';

/** Here a pot is its own mean, and a regimen the mean of its pots. */
const ofPots = (of: string) => of.replace(/(, )?median/, '');
