import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import ProgressBar from 'react-bootstrap/ProgressBar';
import { Link } from 'react-router';
import type { SheetState } from '../../../contract/sheet.ts';
import type { ShelfRoom } from '../../../contract/shelf.ts';
import { get, ProblemError, request } from '../../shell/api.ts';
import { Failed, Loading } from '../../shell/states.tsx';
import { toProblems, type Problems } from '../../shell/use-act.ts';
import { BookTabs } from '../book-tabs.tsx';
import { potsNow } from '../pots-now.ts';
import { useBringing } from '../use-bringing.ts';
import { draftOf, planOf, SAMPLE_BYTES, sampleOf, type Sample, type SheetDraft } from './sheet-draft.ts';
import { SheetColumns } from './sheet-columns.tsx';
import { SheetForm } from './sheet-form.tsx';
import { SheetTold } from './sheet-told.tsx';
import type { PotNamed } from './sheet-words.ts';

const AT = '/api/book/bring-table';

/** Old records out of a spreadsheet or a logger: chosen, said what its columns are, looked through, and only then brought in. */
export function SheetPage() {
  const room = useQuery({ queryKey: ['shelf-room'], queryFn: () => get<ShelfRoom>('/api/shelf/room') });
  const pots = useQuery(potsNow);
  return (
    <div className="page sheet-page">
      <header>
        <div>
          <h1>Book</h1>
          <div className="small">Old records, out of a spreadsheet or a logger</div>
        </div>
        <BookTabs />
      </header>
      {room.isPending || pots.isPending ? (
        <Loading what="the Shelf and the pots" />
      ) : room.data && pots.data ? (
        <Bring room={room.data} pots={pots.data.places.flatMap((place) => place.pots)} />
      ) : (
        <Failed error={room.error ?? pots.error} retry={() => void Promise.all([room.refetch(), pots.refetch()])} />
      )}
    </div>
  );
}

type In = { room: ShelfRoom; pots: readonly PotNamed[] };

function Bring({ room, pots }: In) {
  const bringing = useBringing<SheetState>(AT, ({ actId }) => actId);
  const { state, lost, busy, send, note, tell } = bringing;
  const [sample, setSample] = useState<Sample>();
  const [draft, setDraft] = useState<SheetDraft>();
  const [problems, setProblems] = useState<Problems>({});
  const take = async (file: File) => {
    const bytes = new Uint8Array(await file.slice(0, SAMPLE_BYTES).arrayBuffer());
    const read = sampleOf(bytes, file.size > SAMPLE_BYTES);
    setSample(read);
    setDraft(draftOf(read, room, pots));
    setProblems({});
    send.mutate(file);
  };
  const look = async (as: SheetDraft) => {
    setDraft(as);
    setProblems({});
    const penScale = room.meters.find(({ id }) => id === as.ppmMeterId)?.values.scale ?? room.scale;
    try {
      note(await request<SheetState>('POST', `${AT}/${state!.id}/read`, planOf(as, penScale)));
    } catch (error) {
      if (error instanceof ProblemError && error.problem.errors) setProblems(toProblems(error));
      else tell(error as Error);
    }
  };
  const here = state && !lost && state.state !== 'stopped';
  if (!here || !sample || !draft)
    return (
      <>
        {lost && (
          <p className="sheet brought mb-0" role="alert">
            {lost}
          </p>
        )}
        <Choose busy={busy} take={(file) => void take(file)} />
      </>
    );
  if (state.state === 'kept') return <Kept state={state} />;
  const change = (to: Partial<SheetDraft>) => setDraft({ ...draft, ...to });
  return (
    <>
      <section className="sheet" aria-labelledby="columns">
        <h2 id="columns">What are its columns?</h2>
        <SheetColumns sample={sample} draft={draft} change={change} error={problems['columns']} />
        <SheetForm draft={draft} change={change} room={room} pots={pots} problems={problems} />
        <div className="d-flex gap-2 flex-wrap align-items-center">
          <Button disabled={busy} onClick={() => void look(draft)}>
            {state.report ? 'Look through it again' : 'Look through it'}
          </Button>
          <Button variant="outline-secondary" disabled={bringing.keep.isPending} onClick={() => bringing.stop.mutate()}>
            {state.state === 'reading' ? 'Stop' : 'Leave it'}
          </Button>
          <span className="small">Nothing is changed by looking.</span>
        </div>
        {state.state === 'reading' && (
          <ProgressBar now={Math.round(100 * state.done)} aria-label="Read so far" className="mt-3" />
        )}
      </section>
      {(state.words ?? state.report) && state.state !== 'reading' && (
        <SheetTold
          key={JSON.stringify(draft.mended)}
          state={state}
          sample={sample}
          draft={draft}
          pots={pots}
          busy={busy}
          keeping={bringing.keep.isPending}
          look={(to) => void look({ ...draft, ...to })}
          keep={() => bringing.keep.mutate()}
        />
      )}
    </>
  );
}

function Kept({ state: { name, report } }: { state: SheetState }) {
  return (
    <section className="sheet" role="status">
      <p>
        <b>{name} is in</b>, as one act: the <Link to="/book">Book</Link> takes all of it back with one press. What was
        here before is kept as a <Link to="/book/backups">backup</Link> too.
      </p>
      {report && report.waterings > 0 && (
        <p className="mb-0">
          <Link to="/drift">Drift</Link> stands on its waterings from now on. When they were due nobody knows: they
          count in no figure of rounds on time.
        </p>
      )}
    </section>
  );
}

function Choose({ busy, take }: { busy: boolean; take(file: File): void }) {
  const file = useRef<HTMLInputElement>(null);
  const [pasted, setPasted] = useState('');
  return (
    <section className="sheet sheet-choose" aria-labelledby="choose">
      <h2 id="choose">The table</h2>
      <p className="small mb-0">
        A line for each watering or each reading, with its day and its pot, in whatever order and form you kept it. Save
        it as CSV, or copy its cells and paste them here. A logger’s file of one pot will do too.
      </p>
      <input
        ref={file}
        type="file"
        accept=".csv,.tsv,.txt,text/csv,text/plain,text/tab-separated-values"
        hidden
        aria-label="The table to bring in"
        onChange={(e) => {
          const [chosen] = e.target.files ?? [];
          e.target.value = '';
          if (chosen) take(chosen);
        }}
      />
      <div>
        <Button disabled={busy} onClick={() => file.current?.click()}>
          {busy ? 'Sending it …' : 'Choose the file'}
        </Button>
      </div>
      <Form.Group>
        <Form.Label htmlFor="pasted">Or paste it</Form.Label>
        <Form.Control
          id="pasted"
          as="textarea"
          rows={5}
          value={pasted}
          spellCheck={false}
          placeholder={'Date\tPot\tppm out\tpH out\n3/5/2024\tA-01\t240\t6.4'}
          onChange={(e) => setPasted(e.target.value)}
        />
      </Form.Group>
      <div>
        <Button
          variant="outline-secondary"
          disabled={busy || pasted.trim() === ''}
          onClick={() => take(new File([pasted], 'pasted table'))}
        >
          Take what is pasted
        </Button>
      </div>
    </section>
  );
}
