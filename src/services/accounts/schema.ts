import { z } from "zod";
import { tidied } from "../tidy";

const SHORT_PASSWORD = "A password has at least 12 letters; four words do well.";

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
    .refine((text) => text === "" || text.length >= 12, SHORT_PASSWORD)
    .default(""),
});

const newPassword = z.string().min(12, SHORT_PASSWORD).max(200, "A password has at most 200 letters.");
const directorName = z.string().trim().min(1, "Type your name.").max(120, "A name has at most 120 letters.");

/** The password of today, asked before something that opens the account. */
export const PasswordOnly = z.object({
  password: z.string().min(1, "Type the password you have now.").max(200),
});

/** A one-time code in place of a lost password. */
export const Recover = z.object({
  email: DirectorSignIn.shape.email,
  code: z.string().trim().min(1, "Type one of your one-time codes.").max(60),
  newPassword,
});

export const InviteDirector = z.object({ email: DirectorSignIn.shape.email });

export const AcceptInvitation = z.object({
  token: z.string().min(10, "This invitation is not whole.").max(100),
  name: directorName,
  newPassword,
});

/** A band of one's own, opened by an invitation code. */
export const OpenBand = z.object({
  code: z.string().trim().min(1, "Type the invitation code.").max(100),
  name: tidied(120, "The band's name has at most 120 letters.", "Type the band's name."),
  town: tidied(120, "At most 120 letters.").default(""),
  classCode: z
    .string()
    .trim()
    .toUpperCase()
    .regex(/^[A-Z0-9-]{4,24}$/, "The class code has 4 to 24 letters, digits or dashes."),
  timeZone: z.string().max(64),
  directorName,
  email: DirectorSignIn.shape.email,
  password: newPassword,
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
