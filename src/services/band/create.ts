import { type Transaction, UniqueConstraintError } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { Band, Group, Membership, User } from "../../data";
import { database } from "../../server/database";
import { hashSecret } from "../../server/hashing";
import { bandInvitation, newCodesFor, type OpenBand } from "../accounts";
import { ServiceError } from "../actor";
import { isTimeZone } from "../settings";

export interface NewBand {
  name: string;
  town: string;
  classCode: string;
  timeZone: string;
  directorName: string;
  email: string;
  password: string;
}

/**
 * Makes a band with its director and one group, Full Band.
 * @param also  done in the same transaction, first
 * @throws RangeError with a sentence when something cannot be used
 */
export async function createBand(
  input: NewBand,
  also?: (transaction: Transaction) => Promise<void>,
): Promise<{ bandId: string; userId: string; fullBandId: string }> {
  const classCode = input.classCode.toUpperCase();
  if (!/^[A-Z0-9-]{4,24}$/.test(classCode))
    throw new RangeError("The class code has 4 to 24 letters, digits or dashes.");
  if (!isTimeZone(input.timeZone))
    throw new RangeError(`"${input.timeZone}" is not a time zone such as Europe/Lisbon.`);
  const [bandId, userId, fullBandId] = [uuid(), uuid(), uuid()];
  const passwordHash = await hashSecret(input.password);
  await database().transaction(async (transaction) => {
    await also?.(transaction);
    await Band.create(
      {
        id: bandId,
        name: input.name,
        town: input.town,
        classCode,
        timeZone: input.timeZone,
        pitchToleranceCents: 50,
        timingToleranceMs: 70,
      },
      { transaction },
    );
    await User.create(
      { id: userId, email: input.email.toLowerCase(), name: input.directorName, passwordHash },
      { transaction },
    );
    await Membership.create({ userId, bandId, role: "director" }, { transaction });
    await Group.create(
      { id: fullBandId, bandId, name: "Full Band", place: 99, everyone: true },
      { transaction },
    );
  });
  return { bandId, userId, fullBandId };
}

/**
 * Makes a band in the application, by an invitation code from the command line.
 * @returns who is to be signed in, and one-time codes to print
 */
export async function openBand(
  input: z.output<typeof OpenBand>,
): Promise<{ userId: string; bandId: string; codes: string[] }> {
  const invitation = await bandInvitation(input.code);
  try {
    const { userId, bandId } = await createBand(input, invitation.useUp);
    return { userId, bandId, codes: await newCodesFor(userId) };
  } catch (error) {
    if (error instanceof RangeError) throw new ServiceError("bad-input", error.message);
    if (error instanceof UniqueConstraintError)
      throw new ServiceError("conflict", "This class code or e-mail address is taken. Choose another one.");
    throw error;
  }
}
