import type { AppContext } from '../app-context.ts';
import { AppError } from '../app-error.ts';

const LOOK_EVERY_MS = 3_600_000;

/**
 * Makes the day's backup when there is none yet, now and every hour. What goes wrong is said in every room until a backup succeeds.
 * @returns stops looking, once a backup under way is finished
 */
export function keepBackedUp(
  context: Pick<AppContext, 'backups' | 'clock' | 'database' | 'trouble'>,
): () => Promise<void> {
  let under: Promise<void> = Promise.resolve();
  const look = () => {
    under = under.then(async () => {
      // A damaged file is not backed up, and says so itself.
      if (context.database.trouble()) return;
      try {
        await context.backups.daily(context.clock.now());
        context.trouble.words = null;
      } catch (error) {
        const why = error instanceof AppError ? error.message : 'Is the disk full, or the folder locked?';
        context.trouble.words = `Today's backup could not be made. ${why}`;
      }
    });
  };
  look();
  const timer = setInterval(look, LOOK_EVERY_MS);
  timer.unref();
  return () => {
    clearInterval(timer);
    return under;
  };
}
