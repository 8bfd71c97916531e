import { z } from "zod";
import { tidyText } from "../core/text";

/**
 * A name, title or note from a person: tidied in one place (`core/text`), then checked.
 * @param empty  the sentence when nothing visible is left; left out where it may be empty
 */
export function tidied(most: number, tooLong: string, empty?: string) {
  const text = z
    .string()
    .max(10 * most, tooLong)
    .transform(tidyText);
  const checked = z.string().max(most, tooLong);
  return text.pipe(empty === undefined ? checked : checked.min(1, empty));
}
