import { Link } from 'react-router';
import type { LookBack } from '../../contract/look-back.ts';
import { Icon } from '../drawing/icon.tsx';
import { Failed, Loading } from '../shell/states.tsx';
import { HONEST, learnedWords } from './forecasts/look-back-words.ts';
import { MarkStrip } from './forecasts/mark-strip.tsx';
import { useForecasts } from './forecasts/use-forecasts.ts';
import { TrialCard } from './trials/trial-card.tsx';
import { useTrials } from './trials/use-trials.ts';

/** What stands beside the log where there is room: the trial that runs, how good the forecasts were, and what can be taken along. */
export function BesideLog() {
  return (
    <div className="beside-log">
      <Trial />
      <Forecasts />
      <TakeAlong />
    </div>
  );
}

function Trial() {
  const trials = useTrials();
  if (trials.isPending) return <Loading what="the trials" />;
  if (!trials.data) return <Failed error={trials.error} retry={() => void trials.refetch()} />;
  const [newest] = trials.data.trials;
  if (newest) return <TrialCard trial={newest} />;
  return (
    <section className="sheet trial" aria-label="Trials">
      <h2>Ask the pots</h2>
      <p className="small">
        Half of some pots get one thing otherwise, by lot. Before it starts you are told how large a difference so many
        pots can show.
      </p>
      <Link className="btn btn-outline-secondary btn-sm" to="/book/trials/new">
        Start a trial
      </Link>
    </section>
  );
}

const NAMES: Record<LookBack['figures'][number]['what'], string> = {
  left: 'What was left',
  ppm: 'Run-off ppm',
  ph: 'pH at change',
  clay: 'Clay soaks',
};
const STRIP = 150;

function Forecasts() {
  const { back } = useForecasts();
  if (!back) return null;
  const read = back.figures.filter(({ readings }) => readings > 0);
  const [all, inside] = [read.reduce((n, f) => n + f.readings, 0), read.reduce((n, f) => n + f.inside, 0)];
  return (
    <section className="sheet looked-back" aria-label="Forecasts, looked back on">
      <h2>
        <Link to="/book/forecasts">Forecasts, looked back on</Link>
      </h2>
      {all === 0 ? (
        <p className="small mb-0">Nothing was read in the last month, so there is nothing to judge by.</p>
      ) : (
        <>
          <p className="mb-1">
            Of last month’s {all} forecasts, <b>{Math.round((100 * inside) / all)} %</b> landed inside the 90 % band.
          </p>
          <ul>
            {read.map(({ what, readings, inside: n, marks }) => {
              const share = n / readings;
              return (
                <li key={what}>
                  <span>{NAMES[what]}</span>
                  <MarkStrip marks={marks} width={STRIP} words={`${n} of ${readings} inside`} />
                  <b className={share < HONEST.low ? 'num late' : 'num'}>{Math.round(100 * share)} %</b>
                </li>
              );
            })}
          </ul>
          {learnedWords(back.figures) && <p className="small mb-0 mt-1">{learnedWords(back.figures)}</p>}
        </>
      )}
    </section>
  );
}

function TakeAlong() {
  return (
    <section className="sheet take-along" aria-label="Take it with you">
      <h2>Take it with you</h2>
      <Link to="/book/out">
        <Icon name="table" /> Tables
      </Link>
      <Link to="/book/out">
        <Icon name="archive" /> All of it
      </Link>
      <Link to="/book/backups">
        <Icon name="hdd" /> Backup
      </Link>
      <Link to="/book/out">Bring something in</Link>
    </section>
  );
}
