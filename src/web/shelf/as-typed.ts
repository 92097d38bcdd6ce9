/** A form as typed: everything is text until it is kept. */
export type Texts = Record<string, string>;
