import Dropdown from 'react-bootstrap/Dropdown';
import { Link } from 'react-router';
import type { PotView } from '../../contract/pots.ts';
import { Icon } from '../drawing/icon.tsx';
import { useActs } from '../shell/acts.tsx';
import { newId, ProblemError } from '../shell/api.ts';

export type PotDialog = 'write' | 'change' | 'move' | 'regimen' | 'retire' | 'plan' | undefined;
type Props = { view: PotView; dialog: PotDialog; setDialog(next: PotDialog): void };

/** What can be done with a pot, from its own page. */
export function PotActs({ view, dialog, setDialog }: Props) {
  const { pot, values } = view;
  const { noteDried, bringBack } = useOnePot(view);
  return (
    <div className="pot-acts" role="group" aria-label="What to do with it">
      {pot.retiredOn ? (
        <button type="button" className="btn btn-sm btn-primary" onClick={() => void bringBack()}>
          Bring it back
        </button>
      ) : (
        <>
          <button
            type="button"
            className="btn btn-sm btn-outline-secondary"
            aria-keyshortcuts="E"
            onClick={() => setDialog('change')}
          >
            <Icon name="pencil" /> Change
          </button>
          <button
            type="button"
            className="btn btn-sm btn-outline-secondary"
            aria-keyshortcuts="M"
            onClick={() => setDialog('move')}
          >
            Move
          </button>
          <button type="button" className="btn btn-sm btn-outline-secondary" onClick={() => setDialog('regimen')}>
            Regimen
          </button>
          <button
            type="button"
            className="btn btn-sm btn-outline-secondary"
            aria-expanded={dialog === 'plan'}
            onClick={() => setDialog(dialog === 'plan' ? undefined : 'plan')}
          >
            Plan
          </button>
          <button
            type="button"
            className="btn btn-sm btn-outline-secondary"
            aria-keyshortcuts="W"
            onClick={() => setDialog('write')}
          >
            Write
          </button>
          <Link className="btn btn-sm btn-outline-secondary" to={`/pots/labels?pot=${pot.id}`}>
            Label
          </Link>
          <Link className="btn btn-sm btn-outline-secondary" to={`/pots/${pot.id}/report`}>
            Report
          </Link>
          <Dropdown>
            <Dropdown.Toggle size="sm" variant="outline-secondary">
              Clay
            </Dropdown.Toggle>
            <Dropdown.Menu>
              <Dropdown.Item as={Link} to={`/clay/pot-up?pot=${pot.id}`}>
                Repot it
              </Dropdown.Item>
              {(values.medium === 'clay' || values.medium === 'basket') && (
                <>
                  <Dropdown.Item as={Link} to={`/clay?hold=${pot.id}`}>
                    Salt check, or a hold
                  </Dropdown.Item>
                  <Dropdown.Item as="button" onClick={() => void noteDried()}>
                    It dried out
                  </Dropdown.Item>
                </>
              )}
            </Dropdown.Menu>
          </Dropdown>
          <button type="button" className="btn btn-sm btn-outline-secondary" onClick={() => setDialog('retire')}>
            Retire
          </button>
        </>
      )}
    </div>
  );
}

function useOnePot({ pot }: PotView) {
  const { put, say } = useActs();
  const noteDried = async () => {
    const id = newId();
    await put(
      {
        id,
        url: `/api/clay/acts/${id}`,
        body: { kind: 'dried', clayId: null, potId: pot.id },
        words: `${pot.code} dried out`,
      },
      { toast: `${pot.code}: dried out` },
    );
  };
  const bringBack = async () => {
    const id = newId();
    try {
      await put(
        {
          id,
          url: `/api/pots/acts/${id}`,
          body: { kind: 'bringBack', potIds: [pot.id] },
          words: `Brought ${pot.code} back`,
        },
        { toast: `Brought ${pot.code} back` },
      );
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      say(error.problem.detail);
    }
  };
  return { noteDried, bringBack };
}
