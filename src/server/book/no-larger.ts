import { Transform } from 'node:stream';
import { AppError } from '../app-error.ts';

/** Lets bytes through up to a size. @throws AppError `backup-bad` past it */
export function noLargerThan(most: number, words: string): Transform {
  let seen = 0;
  return new Transform({
    transform(piece: Buffer, _encoding, done) {
      seen += piece.length;
      if (seen > most) done(new AppError('backup-bad', words));
      else done(null, piece);
    },
  });
}
