/** A moment as logs tell it: this place's time of day to the millisecond. @param at ISO 8601 */
export const timeOfDay = (at: string): string => {
  const moment = new Date(at);
  return `${moment.toTimeString().slice(0, 8)}.${String(moment.getMilliseconds()).padStart(3, '0')}`;
};
