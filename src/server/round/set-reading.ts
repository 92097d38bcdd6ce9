import type { EntityManager } from 'typeorm';
import type { ReadChoiceView, ReadingAct } from '../../contract/round.ts';
import { settingsNow } from '../collection/index.ts';
import { changeRecords, requirePot } from '../database/records.ts';

/**
 * Sets how much is read of a round, or takes a pot out of all asking. Only what is asked is changed, so that two devices do not undo each other.
 * @throws AppError `not-found`
 */
export async function setReading(
  manager: EntityManager,
  eventId: string,
  act: ReadingAct,
  when: { at: Date; localDate: string },
): Promise<{ repeated: boolean }> {
  const set = (key: string, value: unknown, words: string) =>
    changeRecords(manager, {
      eventId,
      when,
      group: 'Settings',
      words,
      changes: [{ table: 'setting', id: key, after: { value: JSON.stringify(value) } }],
    });
  if (act.kind === 'howMuch') return set('reading', act.choice, `On a round: ${choiceWords(act.choice)}`);
  const pot = await requirePot(manager, act.potId);
  const rest = settingsNow(manager).neverRead.filter((id) => id !== pot.id);
  return set(
    'neverRead',
    (act.never ? [...rest, pot.id] : rest).sort(),
    `${pot.code} is ${act.never ? 'never asked for a reading' : 'asked for readings again'}`,
  );
}

function choiceWords(choice: ReadChoiceView): string {
  if (choice.how === 'atMost') return `read at most ${choice.most} ${choice.of === 'dips' ? 'dips' : 'min'}`;
  return { everything: 'read everything', asked: 'read what is asked', little: 'read only little' }[choice.how];
}
