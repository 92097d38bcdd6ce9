/* Apart from the schemas, so that the first screen need not carry them. */

/** The largest picture of a pot that is kept, as the camera wrote it. */
export const MOST_POT_PHOTO_MB = 25;
export const TOO_LARGE = `A photo of more than ${MOST_POT_PHOTO_MB} MB is not kept. Take it at a smaller size, or send it smaller from the phone.`;

/** Long edge of a kept picture, px: a whole plant with its labels still to be read. */
export const LONG_EDGE = 1400;
