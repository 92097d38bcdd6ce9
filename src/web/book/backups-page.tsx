import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import Button from 'react-bootstrap/Button';
import type { BackupView } from '../../contract/shell.ts';
import { useActs } from '../shell/acts.tsx';
import { get, OfflineError, ProblemError, request, sendFile } from '../shell/api.ts';
import { dayMonthYear } from '../shell/format.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { useShell } from '../shell/use-shell.ts';
import { BookTabs } from './book-tabs.tsx';

type Backups = { folder: string | null; backups: BackupView[] };

/** Backups: one a day by itself, one whenever asked; any of them can be put back after it was checked. */
export function BackupsPage() {
  const backups = useQuery({ queryKey: ['backups'], queryFn: () => get<Backups>('/api/book/backups') });
  return (
    <div className="page backups-page">
      <header>
        <div>
          <h1>Book</h1>
          <div className="small">Backups: one a day by itself, fourteen are kept; those you ask for stay</div>
        </div>
        <BookTabs />
      </header>
      {backups.isPending ? (
        <Loading what="the backups" />
      ) : backups.data ? (
        <List {...backups.data} />
      ) : (
        <Failed error={backups.error} retry={() => void backups.refetch()} />
      )}
    </div>
  );
}

function List({ folder, backups }: Backups) {
  const client = useQueryClient();
  const shell = useShell();
  const { say } = useActs();
  const file = useRef<HTMLInputElement>(null);
  const [asked, setAsked] = useState<string>();
  const tell = (error: Error) =>
    say(
      error instanceof ProblemError || error instanceof OfflineError
        ? error.message
        : 'That did not work. Nothing was changed.',
    );
  const make = useMutation({
    mutationFn: () => request<{ name: string }>('POST', '/api/book/backups'),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['backups'] });
      say('Backed up and checked');
    },
    onError: tell,
  });
  const restore = useMutation({
    mutationFn: (name: string) => request<{ kept: string | null }>('POST', `/api/book/backups/${name}/restore`),
    onSuccess: async () => {
      setAsked(undefined);
      await client.resetQueries();
      say('Put back. What was here before is kept as a backup too');
    },
    onError: tell,
  });
  const bring = useMutation({
    // The server checks it before it counts.
    mutationFn: (chosen: File) =>
      sendFile<{ name: string }>('/api/book/backups/bring', chosen, 'application/vnd.sqlite3'),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['backups'] });
      say('Brought in and checked. It can be put back now');
    },
    onError: tell,
  });
  return (
    <section className="sheet shelf-list backups" aria-label="Backups">
      <header>
        <h2>{backups.length} kept</h2> {folder && <span className="small path">{folder}</span>}
        <span className="push d-flex gap-2">
          <input
            ref={file}
            type="file"
            accept=".sqlite"
            className="visually-hidden"
            aria-label="A backup file to bring in"
            tabIndex={-1}
            onChange={(e) => {
              const chosen = e.target.files?.[0];
              if (chosen) bring.mutate(chosen);
              e.target.value = '';
            }}
          />
          <Button
            size="sm"
            variant="outline-secondary"
            disabled={bring.isPending}
            onClick={() => file.current?.click()}
          >
            {bring.isPending ? 'Checking …' : 'Bring a file in'}
          </Button>
          <Button size="sm" disabled={make.isPending} onClick={() => make.mutate()}>
            {make.isPending ? 'Backing up …' : 'Back up now'}
          </Button>
        </span>
      </header>
      {backups.length === 0 ? (
        <Empty title="No backup yet">
          <p className="mb-0">
            {shell.data?.mode === 'demo'
              ? 'The demo is not backed up by itself; it can be made anew.'
              : 'The first one is made within the hour.'}
          </p>
        </Empty>
      ) : (
        <ul>
          {backups.map((b) => (
            <li key={b.name} className={asked === b.name ? 'asked' : ''}>
              <div className="min-0">
                <b>
                  {dayMonthYear(b.at.slice(0, 10))},{' '}
                  {new Date(b.at).toLocaleTimeString('en-GB', {
                    hour: '2-digit',
                    minute: '2-digit',
                    ...(shell.data ? { timeZone: shell.data.zone } : {}),
                  })}
                </b>{' '}
                <span className="small">{b.why}</span>
                {b.problem && <span className="field-error d-block">{b.problem}</span>}
                {asked === b.name && (
                  <span className="d-block">
                    The collection goes back to how it stood then. What is here now is kept as a backup first, so this
                    can be undone the same way.
                  </span>
                )}
              </div>
              <span className="figure small nowrap">
                {b.pots !== null && `${b.pots} pots, ${b.events?.toLocaleString('en-GB')} lines, `}
                {(b.bytes / 1_000_000).toFixed(1)} MB
              </span>
              <span className="row-acts">
                <a className="btn btn-sm btn-outline-secondary" href={`/api/book/backups/${b.name}`} download>
                  Save a copy
                </a>
                {!b.problem &&
                  (asked === b.name ? (
                    <>
                      <Button
                        size="sm"
                        variant="clay"
                        disabled={restore.isPending}
                        onClick={() => restore.mutate(b.name)}
                      >
                        {restore.isPending ? 'Checking …' : 'Put it back now'}
                      </Button>
                      <Button size="sm" variant="outline-secondary" onClick={() => setAsked(undefined)}>
                        Leave it
                      </Button>
                    </>
                  ) : (
                    <Button
                      size="sm"
                      variant="outline-secondary"
                      aria-label={`Put the backup of ${dayMonthYear(b.at.slice(0, 10))} back`}
                      onClick={() => setAsked(b.name)}
                    >
                      Put back
                    </Button>
                  ))}
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
