import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { Link } from 'react-router';
import { USE_WORDS, type RecipeView } from '../../contract/recipes.ts';
import { dayMonthYear, NBSP, ppmText } from '../shell/format.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { useAct } from '../shell/use-act.ts';
import { RecipeCompare } from './recipe-compare.tsx';
import { recipesQuery } from './recipes-query.ts';
import { RulesCard } from './rules-card.tsx';

/** Recipes: saved, made at any volume, set side by side, and how often each came out right. */
export function RecipesPage() {
  const book = useQuery(recipesQuery);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const { send, problems } = useAct('/api/bench/recipes/acts');
  if (book.isPending) return <Loading what="the recipes" />;
  if (!book.data) return <Failed error={book.error} retry={() => void book.refetch()} />;
  const inUse = book.data.recipes.filter((r) => r.retiredOn === null);
  const away = book.data.recipes.filter((r) => r.retiredOn !== null);
  const toggle = (id: string) =>
    setChosen(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id].slice(-3));
  return (
    <div className="page recipes">
      <header>
        <div>
          <h1>Recipes</h1>
          <div className="small">
            {inUse.length === 1 ? 'One recipe' : `${inUse.length} recipes`} · each can be made at any volume
          </div>
        </div>
        <Link className="btn btn-outline-secondary push" to="/bench">
          To the bench
        </Link>
        <Link className="btn btn-primary" to="/bench/recipes/new">
          A new recipe
        </Link>
      </header>
      {problems[''] && (
        <div className="field-error" role="alert">
          {problems['']}
        </div>
      )}
      {inUse.length === 0 && (
        <Empty title="No recipe is kept yet">
          <p className="mb-0">
            A mix you make again and again can be kept as a recipe: from here, or from a batch that came out right.
          </p>
        </Empty>
      )}
      <ul className="recipe-cards">
        {inUse.map((r) => (
          <li key={r.id} className="sheet">
            <RecipeCard
              recipe={r}
              chosen={chosen.includes(r.id)}
              onChoose={() => toggle(r.id)}
              onRetire={() => void send({ kind: 'retire', id: r.id }, `${r.values.name} put away`)}
            />
          </li>
        ))}
      </ul>
      {chosen.length > 1 && <RecipeCompare recipes={inUse.filter((r) => chosen.includes(r.id))} />}
      <RulesCard rules={book.data.rules} />
      {away.length > 0 && (
        <details className="sheet put-away">
          <summary>Put away: {away.length}</summary>
          <ul>
            {away.map((r) => (
              <li key={r.id}>
                {r.values.name}{' '}
                <Button
                  variant="link"
                  size="sm"
                  onClick={() => void send({ kind: 'bringBack', id: r.id }, `${r.values.name} taken up again`)}
                >
                  Take it up again
                </Button>
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}

type CardProps = { recipe: RecipeView; chosen: boolean; onChoose(): void; onRetire(): void };

function RecipeCard({ recipe: r, chosen, onChoose, onRetire }: CardProps) {
  return (
    <>
      <h2>{r.values.name}</h2>
      <div className="small">
        {USE_WORDS[r.values.use]}
        {r.values.holdMinutes !== null && `, held ${r.values.holdMinutes}${NBSP}min`} · pH {r.values.phLow} to{' '}
        {r.values.phHigh}
      </div>
      <ul className="recipe-parts">
        {r.parts.map((p) => (
          <li key={p.productId}>
            <b>{p.name}</b>, {p.aimWords}
          </li>
        ))}
        {r.parts.length === 0 && <li>nothing but water</li>}
      </ul>
      <div className="small">
        {r.netPpm !== null && r.netPpm > 0 && `about ${ppmText(r.netPpm)} over base · `}
        {madeWords(r.made)}
      </div>
      {r.values.note && <div className="small">{r.values.note}</div>}
      <div className="d-flex gap-3 align-items-center mt-auto">
        <Link className="btn btn-clay btn-sm" to={`/bench/new?recipe=${r.id}`}>
          Make it
        </Link>
        <Link to={`/bench/recipes/${r.id}`}>Change</Link>
        <Button variant="link" size="sm" className="p-0" onClick={onRetire}>
          Put away
        </Button>
        <Form.Check
          className="push"
          type="checkbox"
          id={`compare-${r.id}`}
          label="compare"
          checked={chosen}
          onChange={onChoose}
        />
      </div>
    </>
  );
}

/** "made 5 times, right 4 of the 5 read, last on 12 Nov 2026". */
function madeWords({ times, right, unread, lastOn }: RecipeView['made']): string {
  if (times === 0) return 'not made yet';
  const read = times - unread;
  const came = read === 0 ? 'never read' : `right ${right} of the ${read} read`;
  return `made ${times === 1 ? 'once' : `${times} times`}, ${came}${lastOn ? `, last on ${dayMonthYear(lastOn)}` : ''}`;
}
