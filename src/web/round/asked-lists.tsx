import type { RoundPot, RoundView } from '../../contract/round.ts';
import { READABLES } from '../../core/what-to-read/index.ts';
import { CALLED } from './what-is-asked.ts';

/** Under the shelves: what is asked and why, and what may be left and until when. */
export function AskedLists({
  view,
  toDo,
  onSelect,
}: {
  view: RoundView;
  toDo: readonly RoundPot[];
  onSelect(id: string): void;
}) {
  if (view.reading.choice.how === 'everything') return null;
  const lines = toDo.flatMap((pot) => linesOf(pot));
  const asked = lines.filter((line) => line.asked);
  const left = lines.filter((line) => !line.asked);
  if (lines.length === 0) return null;
  return (
    <section className="asked-lists" aria-label="Asked, and left">
      <List title="Asked, and why" lines={asked} none="Nothing is asked of these pots today." onSelect={onSelect} />
      <List title="May be left" lines={left} none="Nothing may be left today." onSelect={onSelect} />
    </section>
  );
}

type Line = { readonly pot: RoundPot; readonly what: string; readonly words: string; readonly asked: boolean };

/** What is said of a pot: both readings in one line where the same is said of both. */
function linesOf(pot: RoundPot): Line[] {
  const { read } = pot;
  if (!read) return [];
  if (read.never) return [{ pot, what: '', words: read.ppm.short, asked: false }];
  const each = READABLES.map((what) => ({
    pot,
    what: CALLED[what],
    words: read[what].missed ? `${read[what].short}: not this time` : read[what].short,
    asked: read[what].asked !== null && !read[what].missed,
  }));
  const [a, b] = each as [Line, Line];
  return a.words === b.words && a.asked === b.asked ? [{ ...a, what: 'ppm, pH' }] : each;
}

function List({
  title,
  lines,
  none,
  onSelect,
}: {
  title: string;
  lines: readonly Line[];
  none: string;
  onSelect(id: string): void;
}) {
  return (
    <div>
      <h2>{title}</h2>
      {lines.length === 0 ? (
        <p className="small mb-0">{none}</p>
      ) : (
        <ul>
          {lines.map(({ pot, what, words, asked }) => (
            <li key={`${pot.id} ${what}`} className={asked ? 'is-asked' : ''}>
              <button type="button" onClick={() => onSelect(pot.id)}>
                <b>{pot.code}</b> <span className="what">{what}</span> <span>{words}</span>
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
