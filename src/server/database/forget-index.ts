/** Statements after which no line is in the index of words any more: it is filled again from the log, whatever stood in it. */
export const FORGET_INDEX = [
  `INSERT INTO log_index (log_index) VALUES ('delete-all')`,
  'DELETE FROM log_indexed',
] as const;
