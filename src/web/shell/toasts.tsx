import Button from 'react-bootstrap/Button';
import Toast from 'react-bootstrap/Toast';
import { useActs } from './acts.tsx';

/** What was just done, and the way back. */
export function Toasts() {
  const { toasts, undo, dismissToast } = useActs();
  return (
    <div className="toast-host" role="status" aria-live="polite">
      {toasts.map((t) => (
        <Toast key={t.id} animation={false} onClose={() => dismissToast(t.id)}>
          <span>{t.words}</span>
          {t.undoId && (
            <Button
              size="sm"
              variant="outline-light"
              onClick={() => {
                dismissToast(t.id);
                void undo(t.undoId!, t.takesBack);
              }}
            >
              Undo
            </Button>
          )}
        </Toast>
      ))}
    </div>
  );
}
