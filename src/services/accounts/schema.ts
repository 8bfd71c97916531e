import { z } from "zod";

export const DirectorSignIn = z.object({
  email: z
    .email("Type the e-mail address of your account.")
    .max(190, "Type the e-mail address of your account.")
    .transform((email) => email.toLowerCase()),
  password: z.string().min(1, "Type your password.").max(200),
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
