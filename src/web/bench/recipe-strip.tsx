import type { BatchPartView, BatchView } from '../../contract/bench.ts';
import { Icon } from '../drawing/icon.tsx';
import { litres, ppmText } from '../shell/format.ts';

/** What the batch is made of: water, litres, and each part with its aim, where it stands, and why it stands there in the order. */
export function RecipeStrip({ view }: { view: BatchView }) {
  const one = view.parts.length === 1 ? view.parts[0]! : undefined;
  return (
    <section className={`sheet recipe ${one ? '' : 'many'}`} aria-label="Recipe">
      <div>
        <span className="small">Water</span>
        <b className="num">
          {view.water.name}
          {view.basePpm !== null &&
            (view.baseIsThought ? `, taken as ${ppmText(view.basePpm)}` : `, reads ${ppmText(view.basePpm)}`)}
        </b>
      </div>
      <div>
        <span className="small">Batch</span>
        <b className="num">{litres(view.volumeL)}</b>
      </div>
      {one ? <OnePart view={view} part={one} /> : <Parts view={view} />}
    </section>
  );
}

function OnePart({ view, part }: { view: BatchView; part: BatchPartView }) {
  const over = part.overPpm ?? view.basePpm;
  return (
    <>
      <div>
        <span className="small">Aim</span>
        <b className="num">
          {part.aimWords}
          {part.aim && over !== null && ` → reads ${ppmText(over + part.aim.netPpm)}`}
        </b>
      </div>
      <div>
        <span className="small">Comfortable</span>
        <b className="num">
          {!part.aim
            ? 'by measure'
            : over === null
              ? 'once the water is read'
              : `${ppmText(over + part.aim.lowPpm)} to ${ppmText(over + part.aim.highPpm)}`}
        </b>
      </div>
      <div>
        <span className="small">{methodWords(part)}</span>
        <b className="num">{part.name}</b>
      </div>
    </>
  );
}

const STATE_WORDS: Record<BatchPartView['state'], string> = {
  waiting: 'waits',
  now: 'now',
  inside: 'in its band',
  measured: 'in',
  byRecipe: 'in, by recipe',
  left: 'left as it is',
};

function Parts({ view }: { view: BatchView }) {
  if (view.parts.length === 0) return <div>Plain water</div>;
  return (
    <ol className="parts-strip" aria-label="Parts, in the order they go in">
      {view.parts.map((part, i) => (
        <li
          key={part.productId}
          className={`part-${part.state}`}
          title={part.riskWords ? `${part.reason}; ${part.riskWords}` : part.reason}
        >
          <span className="small">
            {i + 1} · {methodWords(part)}
          </span>
          <b className="num">
            {part.state === 'inside' || part.state === 'measured' ? <Icon name="check2" /> : null} {part.short},{' '}
            {part.aimWords}
          </b>
          <span className="small">
            {STATE_WORDS[part.state]}
            {part.netPpm !== null && `, ${ppmText(part.netPpm)} over`}
            {part.state === 'waiting' && part.reason && `: ${part.reason}`}
          </span>
        </li>
      ))}
    </ol>
  );
}

export function methodWords(part: BatchPartView): string {
  switch (part.method) {
    case 'plain':
      return 'Plain from the bottle';
    case 'thinned':
      return `Thinned first, 1 part in ${part.mlPerUnit}`;
    case 'stock':
      return `${part.stock?.madeOn ? 'Earlier stock' : 'Stock'}, ${part.stock?.grams} g in ${part.stock?.waterMl} mL`;
    case 'granules':
      return 'Counted in granules';
  }
}
