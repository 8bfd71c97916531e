import { z } from "zod";

const id = z.uuid("This is not a known id.");

export const BeginUpload = z.object({
  id,
  taskId: id,
  bytes: z.number().int().min(1, "The recording is empty."),
  sha256: z.string().regex(/^[0-9a-f]{64}$/, "The checksum is not a SHA-256."),
  recordedAt: z.iso.datetime(),
  /** What the device left out of the recording. */
  gaps: z
    .array(
      z
        .object({ fromSec: z.number().min(0).max(3600), toSec: z.number().min(0).max(3600) })
        .refine((gap) => gap.toSec > gap.fromSec, "A gap ends after it begins."),
    )
    .max(500)
    .default([]),
});
