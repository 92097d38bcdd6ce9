/** The way back, as a key and a button. */
export function UndoKey({ onUndo }: { onUndo(): void }) {
  return (
    <div className="entry-keys">
      <button type="button" onClick={onUndo}>
        <kbd>U</kbd> take the last one back
      </button>
    </div>
  );
}
