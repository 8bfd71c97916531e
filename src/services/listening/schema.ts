import { z } from "zod";
import { tidied } from "../tidy";

const score = z.number().int().min(1).max(4);
export const ReviewTake = z.object({
  decision: z.enum(["accepted", "again"], { error: "Accept the take or ask for another." }),
  comment: tidied(1000, "A comment has at most 1000 letters.").default(""),
  marks: z
    .object({ notes: score, rhythm: score, tone: score, articulation: score, dynamics: score })
    .partial(),
});
