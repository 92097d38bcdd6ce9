import { useId, type FormEvent, type ReactNode } from 'react';
import Button from 'react-bootstrap/Button';
import Modal from 'react-bootstrap/Modal';

type Props = {
  title: string;
  /** What the button says that keeps it. */
  keep: string;
  busy: boolean;
  submit(event: FormEvent): void;
  onClose(): void;
  /** What is wrong with the whole, at no field. */
  wrong?: string | undefined;
  /** Another way to keep it, beside the first. */
  more?: ReactNode;
  /** Wide: `true` for the two columns of a pot, 'wide' for one wide column. */
  large?: boolean | 'wide';
  children: ReactNode;
};

/** A form over the page: Enter keeps, Esc leaves it as it was, what is wrong stays in it. */
export function FormModal({ title, keep, busy, submit, onClose, wrong, more, large = false, children }: Props) {
  const id = useId();
  return (
    <Modal
      show
      onHide={() => onClose()}
      animation={false}
      centered
      scrollable
      {...(large ? { size: 'lg' as const } : {})}
      aria-labelledby={`${id}-title`}
    >
      <Modal.Header closeButton>
        <Modal.Title as="h2" id={`${id}-title`}>
          {title}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <form id={id} noValidate onSubmit={submit} className={large === true ? 'pot-form' : 'thing-form'}>
          {children}
          {wrong && (
            <p className="field-error mb-0 wide" role="alert">
              {wrong}
            </p>
          )}
        </form>
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={() => onClose()}>
          Leave it
        </Button>
        {more}
        <Button type="submit" form={id} disabled={busy}>
          {keep}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
