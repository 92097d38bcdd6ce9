import { useCallback, useState } from 'react';
import Button from 'react-bootstrap/Button';
import { useHotkeys } from 'react-hotkeys-hook';
import type { BookEntry } from '../../contract/book.ts';
import { useActs } from '../shell/acts.tsx';
import { dayMonthYear } from '../shell/format.ts';
import { PhotoViewer } from '../shell/photo-viewer.tsx';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { useWide } from '../shell/use-narrow.ts';
import { BesideLog } from './beside-log.tsx';
import { BookTabs } from './book-tabs.tsx';
import { CorrectDialog } from './correct-dialog.tsx';
import { DayStrip } from './log/day-strip.tsx';
import { LogFilters } from './log/log-filters.tsx';
import { LogList } from './log/log-list.tsx';
import { NoteForm } from './log/note-form.tsx';
import { useLogDays, useLogFilter, useLogFound } from './log/use-log.ts';
import { TurnsCard } from './turns/turns-card.tsx';

/** Book: the log of everything, by day; found by words; each act undoable. */
export function BookPage() {
  const { undo } = useActs();
  const undoNow = useCallback((id: string) => void undo(id), [undo]);
  const [correcting, setCorrecting] = useState<string>();
  const [writing, setWriting] = useState(false);
  const [photo, setPhoto] = useState<BookEntry>();
  const { filter, change, clear, narrowed } = useLogFilter();
  const days = useLogDays(filter.to, !narrowed);
  const found = useLogFound(filter, narrowed);
  const { log, read, more } = narrowed ? found : days;
  // While something is looked for, the log has the page to itself.
  const wide = useWide() && !narrowed;
  useHotkeys('n', () => setWriting(true), { preventDefault: true, enableOnFormTags: ['slider'] });
  // While the first lines of a search are on their way the page stays: whoever types in it must not lose the field.
  const head = read ?? days.read ?? found.read;
  const coming = <Coming log={log} narrowed={narrowed} />;
  if (!head) return coming;
  return (
    <div className="page book">
      <header>
        <div>
          <h1>Book</h1>
          <div className="small">{linesWords(head)}</div>
        </div>
        <BookTabs />
        <Button onClick={() => setWriting(true)}>
          Write something down <kbd>N</kbd>
        </Button>
      </header>
      <div className={wide ? 'book-columns' : 'book-column'}>
        {wide && <TurnsCard />}
        <section className="sheet log">
          <div className="log-top">
            <h2 className="visually-hidden">Log</h2>
            <LogFilters filter={filter} narrowed={narrowed} change={change} clear={clear} />
          </div>
          {head.since !== null && (
            <DayStrip filter={filter} today={head.today} since={head.since} go={(to) => change({ to })} />
          )}
          {!read ? (
            coming
          ) : (
            <Lines
              read={read}
              clear={narrowed || filter.to ? clear : undefined}
              more={more}
              toggle={days.toggle}
              undo={undoNow}
              correct={setCorrecting}
              look={setPhoto}
            />
          )}
        </section>
        {wide && <BesideLog />}
      </div>
      {correcting && <CorrectDialog eventId={correcting} onClose={() => setCorrecting(undefined)} />}
      {writing && <NoteForm today={head.today} onClose={() => setWriting(false)} />}
      <LookedAt photo={photo} close={() => setPhoto(undefined)} undo={undoNow} />
    </div>
  );
}

const linesWords = ({ total, since }: { total: number; since: string | null }) =>
  `What was done · ${total.toLocaleString('en-GB')} lines${since ? ` since ${dayMonthYear(since)}` : ''}`;

type LinesProps = Omit<Parameters<typeof LogList>[0], 'items' | 'total' | 'today'> & {
  read: Pick<Parameters<typeof LogList>[0], 'items' | 'total' | 'today'>;
  clear: (() => void) | undefined;
};

/** The lines there are, or that there are none. */
function Lines({ read: { items, total, today }, clear, ...list }: LinesProps) {
  if (items.length === 0) return <NoLines clear={clear} />;
  return <LogList {...list} items={items} total={total} today={today} />;
}

/** Lines on their way, or why they are not. */
function Coming({ log, narrowed }: { log: { error: Error | null; refetch(): unknown }; narrowed: boolean }) {
  return log.error ? (
    <Failed error={log.error} retry={() => void log.refetch()} />
  ) : (
    <Loading what={narrowed ? 'what you look for' : 'the book'} />
  );
}

/** @param clear undoes what was looked for; undefined where nothing was */
function NoLines({ clear }: { clear: (() => void) | undefined }) {
  if (clear)
    return (
      <Empty title="No line answers to that">
        <Button variant="outline-secondary" onClick={clear}>
          Show all
        </Button>
      </Empty>
    );
  return (
    <Empty title="An empty book">
      <p className="mb-0">Everything you log is written here, and can be taken back from here.</p>
    </Empty>
  );
}

/** The picture of a line, over the page. */
function LookedAt({ photo, close, undo }: { photo: BookEntry | undefined; close(): void; undo(id: string): void }) {
  if (!photo?.photoId) return null;
  return (
    <PhotoViewer
      title={`${photo.where || 'Photo'}, ${dayMonthYear(photo.on)}`}
      src={`/api/book/photos/${photo.photoId}`}
      alt={photo.what}
      onClose={close}
      takeAway={() => undo(photo.id)}
    />
  );
}
