/** Whether words are being written there: a letter is then a letter, and no key for something else. Fields for figures take keys. */
export function isWriting(target: EventTarget | null): boolean {
  if (target instanceof HTMLTextAreaElement) return true;
  return (
    target instanceof HTMLInputElement &&
    (target.type === 'text' || target.type === 'search') &&
    !/decimal|numeric/.test(target.inputMode)
  );
}
