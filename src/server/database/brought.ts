/** The subject under which the lines of an act that brought older records stand in `event_touch`. */
export const broughtBy = (eventId: string): string => `brought:${eventId}`;
