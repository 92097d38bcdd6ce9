import { TRADE_WORDS } from './trade-words.ts';

/** Every word that is not everyday English, with its plain meaning. */
export function WordsPage() {
  const words = Object.values(TRADE_WORDS).toSorted((a, b) => a.word.localeCompare(b.word));
  return (
    <div className="page words-page">
      <header>
        <div>
          <h1>Words</h1>
          <div className="small">What they mean here; each also opens where it stands, underlined with dots.</div>
        </div>
      </header>
      <dl className="sheet p-3">
        {words.map(({ word, means }) => (
          <div key={word}>
            <dt>{word}</dt>
            <dd>{means}</dd>
          </div>
        ))}
      </dl>
    </div>
  );
}
