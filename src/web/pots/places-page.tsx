import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import { LIGHT_WORDS } from '../../contract/kinds.ts';
import type { PotsAct, PotsView } from '../../contract/pots.ts';
import { useActs } from '../shell/acts.tsx';
import { newId, ProblemError } from '../shell/api.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { PlaceForm } from './place-form.tsx';
import { potsQuery } from './pots-page.tsx';

/** Places in the order they are walked, and regimens. */
export function PlacesPage() {
  const pots = useQuery(potsQuery);
  if (pots.isPending) return <Loading what="places and regimens" />;
  if (!pots.data) return <Failed error={pots.error} retry={() => void pots.refetch()} />;
  return <Places view={pots.data} />;
}

function Places({ view }: { view: PotsView }) {
  const { put, say } = useActs();
  const [place, setPlace] = useState<{ id: string | undefined }>();
  const act = async (body: PotsAct, words: string) => {
    const id = newId();
    try {
      await put({ id, url: `/api/pots/acts/${id}`, body, words }, { toast: words });
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      say(error.problem.detail);
    }
  };
  const chosenPlace = view.places.find((p) => p.id === place?.id);
  return (
    <div className="page places-page">
      <header>
        <div>
          <h1>Places and regimens</h1>
          <div className="small">The order of the places is the order of the round.</div>
        </div>
        <Link className="btn btn-outline-secondary push" to="/pots">
          Back to the pots
        </Link>
      </header>
      <div className="shelf-lists">
        <section className="sheet shelf-list" aria-label="Places">
          <header>
            <h2>Places</h2>
            <Button size="sm" className="push" onClick={() => setPlace({ id: undefined })} aria-label="Add a place">
              Add
            </Button>
          </header>
          <ul>
            {view.places.map((p, i) => (
              <li key={p.id}>
                <b className="min-0">{p.name}</b>
                <div className="small about">
                  {[p.light && LIGHT_WORDS[p.light], p.note, p.year && 'its own year'].filter(Boolean).join(', ')}
                </div>
                <span className="figure nowrap">
                  <b className="num">{p.pots.length}</b> pot{p.pots.length === 1 ? '' : 's'}
                </span>
                <span className="row-acts">
                  <Button
                    size="sm"
                    variant="outline-secondary"
                    disabled={i === 0}
                    aria-label={`${p.name} earlier`}
                    onClick={() =>
                      void act(
                        { kind: 'movePlace', placeId: p.id, beforePlaceId: view.places[i - 1]!.id },
                        `${p.name} comes earlier`,
                      )
                    }
                  >
                    ↑
                  </Button>
                  <Button
                    size="sm"
                    variant="outline-secondary"
                    disabled={i === view.places.length - 1}
                    aria-label={`${p.name} later`}
                    onClick={() =>
                      void act(
                        { kind: 'movePlace', placeId: p.id, beforePlaceId: view.places[i + 2]?.id ?? null },
                        `${p.name} comes later`,
                      )
                    }
                  >
                    ↓
                  </Button>
                  <Button
                    size="sm"
                    variant="outline-secondary"
                    aria-label={`Change ${p.name}`}
                    onClick={() => setPlace({ id: p.id })}
                  >
                    Change
                  </Button>
                  <Button
                    size="sm"
                    variant="outline-secondary"
                    aria-label={`Retire ${p.name}`}
                    onClick={() => void act({ kind: 'retirePlace', placeId: p.id }, `Retired ${p.name}`)}
                  >
                    Retire
                  </Button>
                </span>
              </li>
            ))}
          </ul>
        </section>
        <section className="sheet shelf-list" aria-label="Regimens">
          <header>
            <h2>Regimens</h2>
            <Link className="btn btn-primary btn-sm push" to="/pots/regimens/new" aria-label="Add a regimen">
              Add
            </Link>
          </header>
          <ul>
            {view.regimens.map((r) => (
              <li key={r.id}>
                <b className="min-0">{r.values.name}</b>
                <div className="small about">
                  {r.words}
                  {r.values.feeds[0] && `, pH ${r.values.feeds[0].phLow} to ${r.values.feeds[0].phHigh}`}
                </div>
                <span className="figure nowrap">
                  <b className="num">{r.pots}</b> pot{r.pots === 1 ? '' : 's'}
                </span>
                <span className="row-acts">
                  <Link
                    className="btn btn-outline-secondary btn-sm"
                    aria-label={`Change ${r.values.name}`}
                    to={`/pots/regimens/${r.id}`}
                  >
                    Change
                  </Link>
                </span>
              </li>
            ))}
          </ul>
        </section>
      </div>
      {place && (
        <PlaceForm
          existing={
            chosenPlace && {
              id: chosenPlace.id,
              values: {
                name: chosenPlace.name,
                note: chosenPlace.note,
                light: chosenPlace.light,
                year: chosenPlace.year,
              },
            }
          }
          onClose={() => setPlace(undefined)}
        />
      )}
    </div>
  );
}
