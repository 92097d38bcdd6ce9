import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import Modal from 'react-bootstrap/Modal';
import { useQuery } from '@tanstack/react-query';
import { get, newId, ProblemError, request } from '../shell/api.ts';
import { LabelledField } from '../shell/labelled-field.tsx';

/** The plan in a calendar: a file to keep, or an address to subscribe to, whose secret is shown once. */
export function CalendarDialog({ onClose }: { onClose(): void }) {
  const [hour, setHour] = useState('');
  const [address, setAddress] = useState<string>();
  const [wrong, setWrong] = useState<string>();
  const made = useQuery({
    queryKey: ['season', 'calendar'],
    queryFn: () => get<{ made: boolean }>('/api/season/calendar'),
  });
  const at = hour === '' ? '' : `?at=${hour}`;
  const make = async () => {
    setWrong(undefined);
    try {
      const { path } = await request<{ path: string }>('PUT', `/api/season/calendar/${newId()}`, {});
      setAddress(`${location.origin}${path}`);
      void made.refetch();
    } catch (error) {
      setWrong(error instanceof ProblemError ? error.message : 'The server does not answer; try again in a moment.');
    }
  };
  return (
    <Modal show onHide={onClose} animation={false} centered aria-labelledby="calendar-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="calendar-title">
          In my calendar
        </Modal.Title>
      </Modal.Header>
      <Modal.Body className="calendar-dialog">
        <LabelledField label="At, or all day where it is empty" error={undefined}>
          {(a) => <Form.Control {...a} type="time" value={hour} onChange={(e) => setHour(e.target.value)} />}
        </LabelledField>
        <p className="mb-2">
          <a className="btn btn-primary btn-sm" href={`/api/season/plan.ics${at}`} download="watering.ics">
            Save the file (.ics)
          </a>
        </p>
        <p className="small">
          The file holds the plan as it stands now. A calendar that subscribes to an address follows every change, on
          this machine, or in the home network while it is opened to phones.
        </p>
        {address ? (
          <>
            <LabelledField label="The address, shown this once" error={undefined}>
              {(a) => <Form.Control {...a} readOnly value={`${address}${at}`} onFocus={(e) => e.target.select()} />}
            </LabelledField>
            <p className="small mb-0">
              Whoever has it can read the plan, and nothing else. Making another ends this one.
            </p>
          </>
        ) : (
          <Button variant="outline-secondary" size="sm" onClick={() => void make()}>
            {made.data?.made ? 'Make another address; the old one ends' : 'Make an address to subscribe to'}
          </Button>
        )}
        {wrong && (
          <p className="field-error mb-0" role="alert">
            {wrong}
          </p>
        )}
      </Modal.Body>
    </Modal>
  );
}
