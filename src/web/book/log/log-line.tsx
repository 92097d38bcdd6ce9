import { memo } from 'react';
import { Link } from 'react-router';
import type { BookEntry } from '../../../contract/book.ts';
import type { LogEntry } from '../../../contract/log.ts';
import { Icon, type IconName } from '../../drawing/icon.tsx';
import { phText, ppmText } from '../../shell/format.ts';
import { Hollow } from '../../shell/hollow.tsx';

export const ICONS: Record<BookEntry['group'], IconName> = {
  Round: 'flower',
  Mix: 'eyedropper',
  Skip: 'skipForward',
  Check: 'check2Square',
  Shelf: 'archive',
  Pots: 'flower',
  Plan: 'calendarCheck',
  Clock: 'stopwatch',
  Settings: 'sliders',
  Clay: 'pebbles',
  Advice: 'check2Square',
  Drift: 'graphUp',
  Bench: 'eyedropper',
  Own: 'pencil',
  Trial: 'graphUp',
  Undo: 'arrowCounterclockwise',
};

/** Two cells: the time, and what kind of thing was done. */
function WhenAndKind({ time, group }: Pick<BookEntry, 'time' | 'group'>) {
  return (
    <>
      <span role="gridcell" className="nowrap when">
        {time}
      </span>
      <span role="gridcell" className="kind">
        <Icon name={ICONS[group]} /> <b>{group}</b>
      </span>
    </>
  );
}

type Read = Pick<BookEntry, 'readsPpm' | 'ph' | 'tainted'>;

/** Two cells: strength and pH; hollow where the pen was found off. */
function Reads({ readsPpm, ph, tainted }: Read) {
  return (
    <>
      <span role="gridcell" className="text-end nowrap reads">
        {readsPpm !== null && (
          <>
            <b className="num">
              <Hollow tainted={tainted.ppm}>{ppmText(readsPpm)}</Hollow>
            </b>{' '}
            <small>ppm</small>
          </>
        )}
      </span>
      <span role="gridcell" className="text-end ph">
        {ph !== null && (
          <b className="num">
            <Hollow tainted={tainted.ph}>{phText(ph)}</Hollow>
          </b>
        )}
      </span>
    </>
  );
}

/** A mix or a round in a few words. */
export function EntryCells({ entry: e, open, toggle }: { entry: LogEntry; open: boolean; toggle(): void }) {
  return (
    <>
      <WhenAndKind time={e.time} group={e.group} />
      <span role="gridcell" className="where">
        {e.batchId ? <Link to={`/bench/${e.batchId}`}>{e.where}</Link> : e.where}
      </span>
      <span role="gridcell" className="what">
        <b>{e.what}</b>
        {e.standsOut.map((words) => (
          <span key={words} className="stands-out">
            {words}
          </span>
        ))}
      </span>
      <Reads readsPpm={e.readsPpm} ph={e.ph} tainted={e.tainted} />
      <span role="gridcell" className="text-end acts">
        <button
          type="button"
          tabIndex={-1}
          className="btn btn-link btn-sm p-0"
          aria-expanded={open}
          onClick={toggle}
          aria-label={`${open ? 'Close' : 'Open'} the ${e.steps} steps: ${e.what}, ${e.where}`}
        >
          {e.steps} steps <span aria-hidden>{open ? '▾' : '▸'}</span>
        </button>
      </span>
    </>
  );
}

type LineProps = {
  entry: BookEntry;
  undo(id: string): void;
  correct(id: string): void;
  look(entry: BookEntry): void;
};

/** The cells of one line of the log; drawn once, however often the log is scrolled. */
export const LineCells = memo(function LineCells({ entry: e, undo, correct, look }: LineProps) {
  return (
    <>
      <WhenAndKind time={e.time} group={e.group} />
      <span role="gridcell" className="where">
        {e.potId ? (
          <Link to={`/pots/${e.potId}`}>{e.where}</Link>
        ) : e.batchId ? (
          <Link to={`/bench/${e.batchId}`}>{e.where}</Link>
        ) : (
          e.where
        )}
      </span>
      <span role="gridcell" className="what" title={e.what}>
        <What entry={e} />
      </span>
      <Reads readsPpm={e.readsPpm} ph={e.ph} tainted={e.tainted} />
      <span role="gridcell" className="text-end acts">
        {e.photoId && !e.undone && (
          <button
            type="button"
            className="btn btn-link btn-sm p-0 me-2"
            onClick={() => look(e)}
            aria-label={`Look at the photo: ${e.where}, ${e.time}`}
          >
            <Icon name="camera" />
          </button>
        )}
        {e.correctable && (
          <button
            type="button"
            className="btn btn-link btn-sm p-0 me-2"
            onClick={() => correct(e.id)}
            aria-label={`Put right: ${e.what}, ${e.where}`}
          >
            Put right
          </button>
        )}
        {e.undoable && (
          <button
            type="button"
            className="btn btn-link btn-sm p-0"
            onClick={() => undo(e.id)}
            aria-label={`${e.kind === 'undone' ? 'Put back' : 'Undo'}: ${e.what}, ${e.where}`}
          >
            {e.kind === 'undone' ? 'Put back' : 'Undo'}
          </button>
        )}
      </span>
    </>
  );
});

function What({ entry: e }: { entry: BookEntry }) {
  return (
    <>
      {e.undone ? (
        <>
          <s>{e.what}</s> <span className="small">{e.corrected ? 'put right' : 'taken back'}</span>
        </>
      ) : (
        <>
          {e.ahead && (
            <span className="chip soon me-1" title="Dated ahead of now: it counts once its time has come">
              ahead
            </span>
          )}
          {e.what}
        </>
      )}
      {e.was && (
        <span className="small">
          {' '}
          put right, was <s>{e.was}</s>
        </span>
      )}
    </>
  );
}
