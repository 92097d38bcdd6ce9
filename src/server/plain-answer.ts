import { memo } from './collection/index.ts';
import { requireFinite } from './finite.ts';

/**
 * For answers of hundreds of pots: written as they are, and each pot of it once for as long as it stands. Checking each against its schema
 * took as long as all the rest of the answer; only that every figure is one is looked at. That they are what the contract says is held by the types and by tests (`api.test.ts`).
 */
export const plainAnswer = {
  serializerCompiler: () => (answer: unknown) => wholeText(answer as object, IN_PLACES),
};
/** The same where the pots are a list of the answer's own. */
export const plainAnswerOfPots = {
  serializerCompiler: () => (answer: unknown) => wholeText(answer as object, IN_A_LIST),
};

/** So deep lie the things of an answer that are kept one by one: a pot of a place of a list of places, a pot of a list. */
const IN_PLACES = 4;
const IN_A_LIST = 2;

const wholeText = memo((answer: object, thingsLie: number): string => written(answer, thingsLie));

/** @param down levels still to go until what is kept whole */
function written(value: unknown, down: number): string {
  if (value === null || typeof value !== 'object') {
    requireFinite(value);
    return JSON.stringify(value);
  }
  if (down === 0) return textOf(value);
  if (Array.isArray(value))
    return `[${value.map((one: unknown) => (one === undefined ? 'null' : written(one, down - 1))).join(',')}]`;
  const fields = Object.entries(value).filter(([, one]) => one !== undefined);
  return `{${fields.map(([key, one]) => `${JSON.stringify(key)}:${written(one, down - 1)}`).join(',')}}`;
}

/** A list of things too large to be kept written down. */
export const plainList = {
  serializerCompiler: () => (answer: unknown) => {
    requireFinite(answer);
    return JSON.stringify(answer);
  },
};

/** A thing written down, once. */
const textOf = memo((thing: object): string => {
  requireFinite(thing);
  return JSON.stringify(thing);
});
