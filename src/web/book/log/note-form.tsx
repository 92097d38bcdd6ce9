import { useQuery } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import Form from 'react-bootstrap/Form';
import { LONG_EDGE } from '../../../contract/photo-limits.ts';
import type { LogChoices } from '../../../contract/log.ts';
import { get } from '../../shell/api.ts';
import { DateInput } from '../../shell/date-input.tsx';
import { FormModal } from '../../shell/form-modal.tsx';
import { LabelledField } from '../../shell/labelled-field.tsx';
import { smallPhoto } from '../../shell/small-photo.ts';
import { otherProblems, problemAt, useAct } from '../../shell/use-act.ts';

/** A line of one's own: what no room asks for, such as "moved the lamps up". @param pots it is about at first */
export function NoteForm({
  today,
  pots: first = [],
  onClose,
}: {
  today: string;
  pots?: readonly string[];
  onClose(): void;
}) {
  const { send, problems, setProblems, busy } = useAct('/api/book/notes');
  const [words, setWords] = useState('');
  const [on, setOn] = useState(today);
  const [codes, setCodes] = useState('');
  const [lasts, setLasts] = useState(false);
  const [photo, setPhoto] = useState<{ name: string; image: string }>();
  const choices = useQuery({ queryKey: ['book', 'choices'], queryFn: () => get<LogChoices>('/api/book/choices') });
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const about = potsNamed(codes, choices.data?.pots ?? []);
    if (about.unknown.length > 0) {
      setProblems({
        pots: `There is no pot ${about.unknown.join(', ')}. Write codes as they stand on the labels, such as R-02, L-05.`,
      });
      return;
    }
    const potIds = [...new Set([...first, ...about.ids])];
    if (await send({ words, on, potIds, lasts, image: photo?.image ?? null }, 'Written down')) onClose();
  };
  const choose = async (file: File | undefined) => {
    if (!file) return setPhoto(undefined);
    const image = await smallPhoto(file, [LONG_EDGE]);
    if (image) setPhoto({ name: file.name, image });
    else setProblems({ image: 'That is not a picture this browser can read. Choose a JPEG or PNG.' });
  };
  return (
    <FormModal
      title="Write something down"
      keep="Write it down"
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={onClose}
      wrong={otherProblems(problems, ['words', 'on', 'pots', 'image'])}
    >
      <LabelledField label="What was done" error={problemAt(problems, 'words')} wide>
        {(a) => (
          <Form.Control
            {...a}
            as="textarea"
            rows={3}
            autoFocus
            maxLength={2000}
            placeholder="moved the lamps up a hand"
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
        )}
      </LabelledField>
      <LabelledField label="Day" error={problemAt(problems, 'on')}>
        {(a) => <DateInput {...a} value={on} max={today} onChange={(e) => setOn(e.target.value)} />}
      </LabelledField>
      {first.length === 0 && (
        <LabelledField
          label="Which pots"
          error={problemAt(problems, 'pots')}
          hint="Codes, such as R-02, L-05; none where it is about no pot."
        >
          {(a) => <Form.Control {...a} autoComplete="off" value={codes} onChange={(e) => setCodes(e.target.value)} />}
        </LabelledField>
      )}
      <Form.Check
        id="note-lasts"
        className="wide"
        label="It changed what lasts: show it among the turns"
        checked={lasts}
        onChange={(e) => setLasts(e.target.checked)}
      />
      <LabelledField
        label="Photo"
        error={problemAt(problems, 'image')}
        hint={photo ? `${photo.name}, made small` : 'It stays on this machine.'}
      >
        {(a) => (
          <Form.Control
            {...a}
            type="file"
            accept="image/*"
            onChange={(e) => void choose((e.target as HTMLInputElement).files?.[0])}
          />
        )}
      </LabelledField>
    </FormModal>
  );
}

/** Codes parted by commas or spaces, in any case. */
export function potsNamed(text: string, pots: LogChoices['pots']): { ids: string[]; unknown: string[] } {
  const wanted = text.split(/[\s,;]+/).filter(Boolean);
  const byCode = new Map(pots.map(({ id, code }) => [code.toLowerCase(), id]));
  const found = wanted.map((code) => ({ code, id: byCode.get(code.toLowerCase()) }));
  return {
    ids: found.flatMap(({ id }) => (id === undefined ? [] : [id])),
    unknown: found.flatMap(({ code, id }) => (id === undefined ? [code] : [])),
  };
}
