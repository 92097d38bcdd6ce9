import Form from 'react-bootstrap/Form';
import { useHotkeys } from 'react-hotkeys-hook';
import { useNavigate } from 'react-router';
import type { DriftRoom } from '../../contract/drift.ts';

/** Pots that stand side by side: those that push hardest. */
const BESIDE = 3;

/** Which pot is looked at: the ones that push hardest side by side, any other from the list; left and right go through the shelf. */
export function PotSwitcher({ room, chosen }: { room: DriftRoom; chosen: string | undefined }) {
  const navigate = useNavigate();
  const go = (id: string) => void navigate(`/drift?pot=${id}`, { replace: true });
  const hardest = [...room.pots].sort((a, b) => b.weekUeq.mean - a.weekUeq.mean).slice(0, BESIDE);
  const all: readonly { id: string; code: string; name: string }[] = [...room.pots, ...room.unknown];
  const at = all.findIndex((p) => p.id === chosen);
  const step = (by: number) => {
    const next = all[at + by];
    if (next) go(next.id);
  };
  useHotkeys('left', () => step(-1), { preventDefault: true }, [at, room]);
  useHotkeys('right', () => step(1), { preventDefault: true }, [at, room]);
  return (
    <nav className="drift-pots" aria-label="Pots">
      {hardest.map((p) => (
        <button
          key={p.id}
          type="button"
          className={p.id === chosen ? 'on' : ''}
          aria-pressed={p.id === chosen}
          onClick={() => go(p.id)}
        >
          {p.code}
        </button>
      ))}
      <Form.Select size="sm" aria-label="Another pot" value={chosen ?? ''} onChange={(e) => go(e.target.value)}>
        {all.map((p) => (
          <option key={p.id} value={p.id}>
            {p.code} {p.name}
          </option>
        ))}
      </Form.Select>
    </nav>
  );
}
