/** A sentence of the director's, recorded once. */
export interface ReminderView {
  id: string;
  name: string;
}

/** Largest reminder, bytes: half a minute of WAV. */
export const LARGEST_REMINDER = 4_000_000;
