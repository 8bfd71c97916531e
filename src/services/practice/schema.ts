import { z } from "zod";

const id = z.uuid("This is not a known id.");

export const BeginUpload = z.object({
  id,
  taskId: id,
  bytes: z.number().int().min(1, "The recording is empty."),
  sha256: z.string().regex(/^[0-9a-f]{64}$/, "The checksum is not a SHA-256."),
  recordedAt: z.iso.datetime(),
});
