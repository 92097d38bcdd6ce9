import { inSentence } from '../../core/quantity/words.ts';
import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { useActs } from '../shell/acts.tsx';
import { newId, ProblemError } from '../shell/api.ts';

/** A dropper nobody has counted: say so, and take the count where it is needed. */
export function CountDropper({ toolId, toolName }: { toolId: string; toolName: string }) {
  const { put } = useActs();
  const [text, setText] = useState('');
  const [error, setError] = useState<string>();
  const save = async () => {
    const dropsPerMl = Number(text.trim().replace(',', '.'));
    if (text.trim() === '' || !Number.isFinite(dropsPerMl))
      return setError('Count the drops that fill 1 mL in a syringe, and type that number.');
    try {
      const id = newId();
      await put(
        { id, url: `/api/shelf/droppers/${toolId}/counts/${id}`, body: { dropsPerMl }, words: `${toolName} counted` },
        { toast: `${toolName}: ${dropsPerMl} drops to the mL` },
      );
    } catch (caught) {
      if (!(caught instanceof ProblemError)) throw caught;
      setError(caught.problem.errors?.[0]?.message ?? caught.problem.detail);
    }
  };
  return (
    <div className="caution d-block">
      <label htmlFor="drops-per-ml">
        Nobody has counted the {inSentence(toolName)}: 20 drops to the mL is a guess, good to a fifth. Drops that fill 1
        mL:
      </label>
      <div className="d-flex gap-2 mt-1">
        <Form.Control
          id="drops-per-ml"
          size="sm"
          inputMode="numeric"
          className="other-amount"
          value={text}
          isInvalid={Boolean(error)}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && (e.preventDefault(), void save())}
        />
        <Button size="sm" variant="outline-light" onClick={() => void save()}>
          Use the count
        </Button>
      </div>
      {error && (
        <div className="field-error" role="alert">
          {error}
        </div>
      )}
    </div>
  );
}
