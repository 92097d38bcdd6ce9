/** The main thread serves every device: nothing holds it longer than this at a time, ms. */
const SLICE_MS = 10;

/** Lets others have their turn once a slice is used up. */
export function slices(): () => Promise<void> | undefined {
  let from = performance.now();
  return () => {
    if (performance.now() - from < SLICE_MS) return undefined;
    return new Promise((resolve) => {
      setImmediate(() => {
        from = performance.now();
        resolve();
      });
    });
  };
}

/** Goes through a generator to its end, at once. */
export function atOnce<T>(steps: Generator<void, T>): T {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/** Goes through it slice by slice. */
export async function inSlices<T>(steps: Generator<void, T>): Promise<T> {
  const pause = slices();
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    await pause();
  }
}
