import { z } from "zod";

export const DirectorSignIn = z.object({
  email: z
    .email("Type the e-mail address of your account.")
    .max(190, "Type the e-mail address of your account.")
    .transform((email) => email.toLowerCase()),
  password: z.string().min(1, "Type your password.").max(200),
});

/** A director's own account; the password of today is asked for every change. */
export const ChangeAccount = z.object({
  name: z.string().trim().min(1, "Type your name.").max(120, "A name has at most 120 letters."),
  email: DirectorSignIn.shape.email,
  password: z.string().min(1, "Type the password you have now.").max(200),
  /** Empty to keep it. */
  newPassword: z
    .string()
    .max(200, "A password has at most 200 letters.")
    .refine(
      (text) => text === "" || text.length >= 12,
      "A password has at least 12 letters; four words do well.",
    )
    .default(""),
});

export const StudentSignIn = z.object({
  classCode: z
    .string()
    .trim()
    .min(1, "Type the class code from your card.")
    .max(24)
    .transform((code) => code.toUpperCase().replace(/\s+/g, "")),
  name: z.string().trim().min(1, "Type your name as it stands on your card.").max(120),
  words: z.string().trim().min(1, "Type the four words from your card.").max(120),
});
