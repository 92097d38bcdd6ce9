import { useQuery } from '@tanstack/react-query';
import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import type { RoundMix, RoundPot, RoundView } from '../../contract/round.ts';
import { inSentence } from '../../core/quantity/index.ts';
import { doseWords } from '../../core/regimen/index.ts';
import { PotSection } from '../drawing/index.ts';
import { dayMonth, litres, mL, durationWords, upperFirst } from '../shell/format.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { flushAmount } from './flush-words.ts';
import { roundQuery } from './round-query.ts';
import { askedNow, asksHere } from './what-is-asked.ts';

/** The round on paper: what to draw, the mixes with room for what the pen shows, every pot with boxes to write in. */
export function PrintRoundPage() {
  const round = useQuery(roundQuery);
  if (round.isPending) return <Loading what="the round" />;
  if (!round.data) return <Failed error={round.error} retry={() => void round.refetch()} />;
  return <Sheet view={round.data} />;
}

const isToDo = (p: RoundPot) => p.due.daysLate >= 0 && p.done?.kind !== 'filled';

function Sheet({ view }: { view: RoundView }) {
  const pots = view.places.flatMap((place) => place.pots).filter(isToDo);
  const mixes = view.mixes.filter((m) => m.potsLeft > 0);
  const letterOf = (key: string | null | undefined) => view.mixes.find((m) => m.key === key)?.letter ?? '';
  const draw = drawFirst(view, pots);
  return (
    <div className="page print-round">
      <div className="no-print d-flex gap-2">
        <Button onClick={() => window.print()} disabled={pots.length === 0}>
          Print
        </Button>
        <Link className="btn btn-outline-secondary" to="/round/type-in">
          Type a sheet in
        </Link>
        <Link className="btn btn-outline-secondary" to="/round">
          Back to the round
        </Link>
      </div>
      <header className="paper-head">
        <div>
          <h1>{view.weekday}’s round</h1>
          <div>
            {dayMonth(view.today)} · {pots.length} pot{pots.length === 1 ? '' : 's'}, about{' '}
            {durationWords(view.minutes)}
            {view.morning && ', before noon'}
          </div>
        </div>
        <div className="by">
          by <span className="write long" />
        </div>
      </header>
      {pots.length === 0 ? (
        <p>Nothing is due today, so there is nothing to print.</p>
      ) : (
        <>
          <section className="draw" aria-label="Draw first">
            <b>Draw first</b>
            {draw.map(({ words, hint }) => (
              <span key={words}>
                <i className="tick" /> <b>{words}</b> <small>{hint}</small>
              </span>
            ))}
          </section>
          <section className="paper-mixes" aria-label="Mixes">
            {mixes.map((m) => (
              <MixBox key={m.key} mix={m} />
            ))}
          </section>
          <table className="paper-pots">
            <thead>
              <tr>
                <th>✓</th>
                <th>Mix</th>
                <th colSpan={2}>Pot</th>
                <th>Flush</th>
                <th>Fill</th>
                <th>Look for</th>
                <th>Old ppm</th>
                <th>Old pH</th>
              </tr>
            </thead>
            {view.places.map((place) => {
              const due = place.pots.filter(isToDo);
              if (due.length === 0) return null;
              return (
                <tbody key={place.id}>
                  <tr>
                    <th colSpan={9} scope="colgroup" className="place">
                      {place.name} <small>{place.note}</small>
                    </th>
                  </tr>
                  {due.map((p) => (
                    <PotRow
                      key={p.id}
                      pot={p}
                      reading={view.reading}
                      letter={letterOf(p.mixKey)}
                      soakLetter={p.soak && !p.soak.given ? letterOf(p.soak.mixKey) : ''}
                    />
                  ))}
                </tbody>
              );
            })}
          </table>
          <footer className="paper-foot">
            <p>
              <b>Filling:</b> tip out, read, flush from the top, drain 3 min, tip the last out, fill to the hole, look
              it over.
            </p>
            {mixes.some((m) => m.holdMinutes !== null) && (
              <p>
                <b>Soak:</b> tape the holes over a tray, fill to the brim, hold, drain, flush, then fill. One after the
                other:{' '}
                {mixes
                  .flatMap((m) => m.stagger.map((t) => `${t.code} ${t.startMin === 0 ? 'first' : `+${t.startMin}`}`))
                  .join(', ')}{' '}
                min.
              </p>
            )}
            {view.reading.choice.how !== 'everything' && (
              <p>
                <b>Read where there is a box:</b> {view.reading.made} dips, about {view.reading.minutes.made} min. More
                left in the pot than ever, or a figure far from what it was? Read the rest of it too.
              </p>
            )}
            <p>Old reservoirs go to tolerant plants, not the drain. Type the boxes in at Round afterwards.</p>
            <p>
              <b>With acid:</b> gloves, eye protection. Acid into water, never the reverse; follow the label.
            </p>
          </footer>
        </>
      )}
    </div>
  );
}

/** Water to stand ready: what the mixes take, and what the flushes take of each water. */
function drawFirst(view: RoundView, pots: readonly RoundPot[]): { words: string; hint: string }[] {
  const flush = new Map<string, number>();
  for (const pot of pots)
    for (const stage of pot.flush.stages.length > 0 ? pot.flush.stages : [{ water: 'water', ml: pot.flushMl }])
      flush.set(stage.water, (flush.get(stage.water) ?? 0) + stage.ml);
  const toMix = view.mixes.reduce((sum, m) => sum + m.litresToMix, 0);
  return [
    ...(toMix > 0
      ? [
          {
            words: `${litres(toMix)} to mix with`,
            hint: view.still ? `the tank holds ${litres(view.still.litres)}` : '',
          },
        ]
      : []),
    ...[...flush]
      .filter(([, ml]) => ml > 0)
      .map(([water, ml]) => ({
        words: `${litres(Math.ceil(ml / 100) / 10)} ${inSentence(water)} to flush`,
        hint: 'tepid',
      })),
  ];
}

function aimWords(aim: RoundMix['parts'][number]['aim']): string {
  switch (aim.kind) {
    case 'net':
      return `to ${Math.round(aim.ppm)} over the water`;
    case 'perL':
      return doseWords({ by: 'perL', units: aim.units });
    case 'label':
      return doseWords({ by: 'label', share: aim.share });
    case 'element':
      return `to ${Math.round(aim.mgL)} mg/L ${aim.element}`;
  }
}

function MixBox({ mix }: { mix: RoundMix }) {
  const line = (what: string, unit: string) => (
    <li key={what}>
      <i className="tick" /> <span>{what}</span> <small>{unit}</small> <span className="write" />
    </li>
  );
  const aims = mix.parts.map((part) => `${KIND[part.kind] ?? part.kind} ${aimWords(part.aim)}`);
  return (
    <div className="paper-mix">
      <h2>
        <b className="letter">{mix.letter}</b> {mix.name}
      </h2>
      <small>
        {mix.potsLeft} pot{mix.potsLeft === 1 ? '' : 's'}
        {mix.holdMinutes !== null && `, held ${mix.holdMinutes} min`}
      </small>
      {mix.noMixing ? (
        <p>No mixing.</p>
      ) : mix.batch?.status === 'poured' && mix.litresToMix === 0 ? (
        <p>
          Made {mix.batch.time}: {mL(mix.batch.leftMl)} left.
        </p>
      ) : (
        <ul>
          {line(`${litres(mix.litresToMix)} of water, read it`, 'ppm')}
          {aims.map((words) => line(words, 'ppm'))}
          {line(`pH ${mix.phLow} to ${mix.phHigh}, in three goes at most`, 'pH')}
          {line('Read again after 15 min', 'pH')}
        </ul>
      )}
    </div>
  );
}
const KIND: Partial<Record<RoundMix['parts'][number]['kind'], string>> = {
  feed: 'Feed',
  calmag: 'Calcium–magnesium',
  magnesium: 'Epsom salt',
  silicate: 'Silicate',
};

type RowProps = { pot: RoundPot; reading: RoundView['reading']; letter: string; soakLetter: string };

function PotRow({ pot, reading, letter, soakLetter }: RowProps) {
  const asks = asksHere(pot, reading, { ppm: '', ph: '', left: '' });
  const soak = pot.soak && !pot.soak.given ? pot.soak : undefined;
  return (
    <tr>
      <td>
        <i className="tick" />
      </td>
      <td>
        <b className="letter">{soakLetter || letter}</b>
      </td>
      <td>
        <PotSection drawing={pot.drawing} seed={pot.code} size={30} name="" />
      </td>
      <td>
        <b>
          {pot.code} {pot.name}
        </b>
        {pot.due.daysLate > 0 && <small>{pot.due.words}</small>}
      </td>
      <td>
        {flushAmount(pot)}
        {soak?.way === 'soak' && <small>after the soak</small>}
      </td>
      <td>
        {soak ? (
          <>
            <b>{mL(soak.pouredMl)}</b>
            <small>
              then {letter} {mL(pot.fillMl)}
            </small>
          </>
        ) : (
          <b>{mL(pot.fillMl)}</b>
        )}
      </td>
      <td>
        {lookFor(pot)}
        {askedNow(asks)
          .slice(0, 1)
          .map((what) => (
            <small key={what}>{upperFirst(pot.read![what].short)}</small>
          ))}
        {soak?.way === 'soak' && (
          <small>
            in at <span className="write short" /> out at <span className="write short" />
          </small>
        )}
      </td>
      <td>{!asks || asks.ppm.is === 'asked' ? <i className="box" /> : <small>leave</small>}</td>
      <td>{!asks || asks.ph.is === 'asked' ? <i className="box" /> : <small>leave</small>}</td>
    </tr>
  );
}

/** What is worth a look at this pot, in a few words. */
function lookFor(pot: RoundPot): string {
  const said = [
    pot.note ? 'Came out high last time' : '',
    pot.drawing.salts > 0 ? 'Crust at the top' : '',
    (pot.expected.ph ?? 0) > 7 ? 'Read the pH: it is pushed up' : '',
    upperFirst(pot.keepDry ?? ''),
    pot.drawing.stage === 'rest'
      ? 'At rest: firm, not shrivelled'
      : pot.drawing.stage === 'rooting'
        ? 'New roots; a gentle tug'
        : '',
  ].filter(Boolean);
  const words = said.slice(0, 2).join('. ');
  return upperFirst(words);
}
