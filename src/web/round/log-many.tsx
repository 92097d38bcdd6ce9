import { useMemo, useState, type FormEvent } from 'react';
import Form from 'react-bootstrap/Form';
import type { ManyDone } from '../../contract/common.ts';
import type { RoundAct, RoundPot, RoundView } from '../../contract/round.ts';
import { someOf } from '../../core/quantity/index.ts';
import { useActs } from '../shell/acts.tsx';
import { newId, ProblemError } from '../shell/api.ts';
import { FormModal } from '../shell/form-modal.tsx';
import { mL } from '../shell/format.ts';
import { canBeLogged } from './can-be-logged.ts';
import { isTyped } from './read-draft.ts';
import { actsOf, BLANK_LINE } from './type-in.ts';
import { readTag } from './what-is-asked.ts';

/** Pots named where a reading is asked of them. */
const MOST_NAMED = 8;

type Props = { view: RoundView; toDo: readonly RoundPot[]; from: RoundPot; onClose(): void };

/** Several pots alike, as planned, in one act: each is a line of its own in the Book, and what is wrong with one keeps all of them back. */
export function LogMany({ view, toDo, from, onClose }: Props) {
  const { put, say } = useActs();
  const places = useMemo(() => byPlace(view, toDo, from.mixKey), [view, toDo, from.mixKey]);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(
    () =>
      new Set(
        asFarAsItReaches(
          view,
          from,
          places.find((p) => p.pots.some((pot) => pot.id === from.id))?.pots.filter((pot) => !isTyped(pot)) ?? [],
        ).map((pot) => pot.id),
      ),
  );
  const [wrong, setWrong] = useState<string>();
  const [busy, setBusy] = useState(false);
  const pots = places.flatMap((place) => place.pots).filter((pot) => chosen.has(pot.id));
  const set = (ids: readonly string[], on: boolean) =>
    setChosen((old) => new Set(on ? [...old, ...ids] : [...old].filter((id) => !ids.includes(id))));
  const short = shortOf(view, from, pots);
  const asked = pots.filter((pot) => readTag(pot, view.reading)?.asked);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (busy || pots.length === 0) return;
    setBusy(true);
    setWrong(undefined);
    try {
      const id = newId();
      const fills = pots.map((pot) => ({ eventId: newId(), act: plannedFill(pot, view) }));
      const words = `${pots.length} pots filled as planned`;
      const sent = await put<ManyDone>({
        ...{ id, url: `/api/round/many/${id}`, body: { fills }, words },
        subjects: pots.map((pot) => pot.id),
      });
      if (sent.kind === 'waiting') say(`${words}, kept here until the server answers`, { id, lines: [id] });
      else told(sent.value, id, say);
      onClose();
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      setWrong(error.problem.errors?.[0]?.message ?? error.problem.detail);
    } finally {
      setBusy(false);
    }
  };
  return (
    <FormModal
      title="Several alike, as planned"
      keep={`Log ${pots.length} pot${pots.length === 1 ? '' : 's'}`}
      busy={busy || pots.length === 0 || short !== undefined}
      submit={(e) => void submit(e)}
      onClose={onClose}
      wrong={wrong ?? short}
      large="wide"
    >
      <p className="small mb-0">
        Flushed and filled as planned, nothing measured. Each is kept by itself; what was read or seen of one belongs on
        its own card, so leave that one out; where something was typed already it is left out to begin with.
      </p>
      {asked.length > 0 && (
        <p className="caution-line mb-0">
          A reading is asked of{' '}
          {someOf(
            asked.map((pot) => pot.code),
            MOST_NAMED,
          )}
          : logged so, it is left unread.
        </p>
      )}
      {places.map((place) => {
        const ids = place.pots.map((pot) => pot.id);
        const on = ids.filter((id) => chosen.has(id)).length;
        return (
          <fieldset key={place.id} className="many-place">
            <legend>
              <Form.Check
                id={`many-${place.id}`}
                type="checkbox"
                label={`${place.name}, ${on} of ${ids.length}`}
                checked={on === ids.length}
                onChange={(e) => set(ids, e.target.checked)}
              />
            </legend>
            <div className="many-pots">
              {place.pots.map((pot) => (
                <Form.Check
                  key={pot.id}
                  id={`many-${pot.id}`}
                  type="checkbox"
                  label={isTyped(pot) ? `${pot.code}, typed in` : pot.code}
                  title={pot.name}
                  checked={chosen.has(pot.id)}
                  onChange={(e) => set([pot.id], e.target.checked)}
                />
              ))}
            </div>
          </fieldset>
        );
      })}
    </FormModal>
  );
}

/** What became of it, with the way back: of the lines that were written. */
function told({ loggedIds, already }: ManyDone, id: string, say: ReturnType<typeof useActs>['say']): void {
  const left = already.length > 0 ? `; ${already.join(', ')} logged already on another device, left as it was` : '';
  const words = `${loggedIds.length} pot${loggedIds.length === 1 ? '' : 's'} filled as planned${left}`;
  say(words, loggedIds.length > 0 ? { id, lines: loggedIds } : undefined);
}

/** Pots that are given the same and could be logged now, with the one in hand. */
export function alike(view: RoundView, toDo: readonly RoundPot[], mixKey: string | null): RoundPot[] {
  return toDo.filter((pot) => pot.mixKey === mixKey && canBeLogged(pot, view.mixes));
}

function byPlace(view: RoundView, toDo: readonly RoundPot[], mixKey: string | null) {
  const ids = new Set(alike(view, toDo, mixKey).map((pot) => pot.id));
  return view.places
    .map((place) => ({ ...place, pots: place.pots.filter((pot) => ids.has(pot.id)) }))
    .filter((place) => place.pots.length > 0);
}

/** The filling of a pot as it is planned; always one, since nothing was typed that could be wrong. */
function plannedFill(pot: RoundPot, view: RoundView): RoundAct {
  const line = actsOf({ ...BLANK_LINE, done: true, soaked: false }, pot, view);
  const fill = line.ok ? line.acts.find((act) => act.kind === 'filled') : undefined;
  if (!fill) throw new Error(`${pot.code} has no filling as planned.`);
  return fill;
}

const batchOf = (view: RoundView, { mixKey }: RoundPot) => view.mixes.find((m) => m.key === mixKey)?.batch;
const takenBy = (pots: readonly RoundPot[]) => pots.reduce((sum, pot) => sum + pot.fillMl, 0);

/** The pots of a place that the mix still fills, from the one in hand on; all of them where that would be none. */
function asFarAsItReaches(view: RoundView, from: RoundPot, inPlace: readonly RoundPot[]): readonly RoundPot[] {
  const mayMl = batchOf(view, from)?.pourableMl ?? Infinity;
  const at = Math.max(
    0,
    inPlace.findIndex((pot) => pot.id === from.id),
  );
  const pots = [...inPlace.slice(at), ...inPlace.slice(0, at)];
  const reached = pots.filter((_, i) => takenBy(pots.slice(0, i + 1)) <= mayMl);
  return reached.length > 0 ? reached : pots;
}

/** Why the mix does not reach for so many, before it is sent. */
function shortOf(view: RoundView, from: RoundPot, pots: readonly RoundPot[]): string | undefined {
  const batch = batchOf(view, from);
  const takesMl = takenBy(pots);
  if (!batch || takesMl <= batch.pourableMl) return undefined;
  return `Of the mix ${mL(Math.round(batch.leftMl))} are left and these take ${mL(takesMl)}. Leave some out, or make more.`;
}
