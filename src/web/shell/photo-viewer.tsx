import type { ReactNode } from 'react';
import Button from 'react-bootstrap/Button';
import Modal from 'react-bootstrap/Modal';

type Props = { title: string; src: string; alt: string; onClose(): void; takeAway(): void; more?: ReactNode };

/** A kept picture, large, and the way to take it out again. */
export function PhotoViewer({ title, src, alt, onClose, takeAway, more }: Props) {
  return (
    <Modal show onHide={onClose} centered size="lg" aria-labelledby="photo-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="photo-title">
          {title}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <img className="photo-large" src={src} alt={alt} />
      </Modal.Body>
      <Modal.Footer>
        {more}
        <Button
          variant="outline-secondary"
          onClick={() => {
            onClose();
            takeAway();
          }}
        >
          Take the photo away
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
