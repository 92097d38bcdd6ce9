import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { useHotkeys } from 'react-hotkeys-hook';
import { CUES, NOTHING_SEEN, type Cue } from '../../contract/seen.ts';
import type { Guide } from '../../core/judgement/index.ts';
import { useAct } from '../shell/use-act.ts';

type Answered = { readonly at: string; readonly yes: boolean };

/** One question at a time, answered with wet hands; what was answered stands above it, and the end can be noted in a look. */
export function GuideCard({ guide, potId, code }: { guide: Guide; potId: string; code: string }) {
  const [answers, setAnswers] = useState<readonly Answered[]>([]);
  const [noted, setNoted] = useState(false);
  const { send, problems, busy } = useAct('/api/round/acts');
  const at = answers.reduce((here, { yes }) => guide.questions[here]![yes ? 'yes' : 'no'], guide.first);
  const question = guide.questions[at];
  const end = guide.ends[at];
  const say = (yes: boolean) => question && setAnswers([...answers, { at, yes }]);
  const back = () => {
    setAnswers(answers.slice(0, -1));
    setNoted(false);
  };
  useHotkeys('y', () => say(true), { enabled: question !== undefined });
  useHotkeys('n', () => say(false), { enabled: question !== undefined });
  useHotkeys('backspace', back, { enabled: answers.length > 0 });
  const note = async () => {
    if (!end?.cue) return;
    const look = { ...NOTHING_SEEN, cues: { [end.cue.cue]: end.cue.grade } };
    if (await send({ kind: 'looked', potId, look }, `${code}: noted ${labelOf(end.cue)}`)) setNoted(true);
  };
  return (
    <section className="guide" aria-label={guide.title}>
      {answers.length > 0 && (
        <ol className="guide-trail small" aria-label="Answered">
          {answers.map(({ at: id, yes }) => (
            <li key={id}>
              {guide.questions[id]!.ask} <b>{yes ? 'Yes' : 'No'}</b>
            </li>
          ))}
        </ol>
      )}
      {question ? (
        <article className="now guide-now" aria-live="polite">
          <h2 className="say">{question.ask}</h2>
          <p>{question.hint}</p>
          <div className="guide-answers">
            <Button variant="clay" onClick={() => say(true)}>
              Yes <kbd>Y</kbd>
            </Button>
            <Button variant="outline-light" onClick={() => say(false)}>
              No <kbd>N</kbd>
            </Button>
          </div>
        </article>
      ) : (
        end && (
          <article className="sheet guide-end" aria-live="polite">
            <h2>{end.title}</h2>
            <p>{end.then}</p>
            {problems[''] && (
              <p className="field-error mb-0" role="alert">
                {problems['']}
              </p>
            )}
            {end.cue && (
              <Button disabled={busy || noted} onClick={() => void note()}>
                {noted ? `Noted: ${labelOf(end.cue)}` : `Note it: ${labelOf(end.cue)}`}
              </Button>
            )}
          </article>
        )
      )}
      {answers.length > 0 && (
        <Button variant="outline-secondary" className="guide-back" onClick={back}>
          ← One back
        </Button>
      )}
      <p className="small mb-0">Common practice. What it is stays your judgement; treatments go by their labels.</p>
    </section>
  );
}

const labelOf = ({ cue, grade }: { cue: string; grade: string }) => `${CUES[cue as Cue].label} ${grade}`;
