import { v7 as uuid } from "uuid";
import { Band, Group, Membership, User } from "../../data";
import { database } from "../../server/database";
import { hashSecret } from "../../server/hashing";

export interface NewBand {
  name: string;
  town: string;
  classCode: string;
  timeZone: string;
  directorName: string;
  email: string;
  password: string;
}

/** Makes a band with its director and one group, Full Band. @throws RangeError with a sentence when something cannot be used */
export async function createBand(
  input: NewBand,
): Promise<{ bandId: string; userId: string; fullBandId: string }> {
  const classCode = input.classCode.toUpperCase();
  if (!/^[A-Z0-9-]{4,24}$/.test(classCode))
    throw new RangeError("The class code has 4 to 24 letters, digits or dashes.");
  if (!isTimeZone(input.timeZone))
    throw new RangeError(`"${input.timeZone}" is not a time zone such as Europe/Lisbon.`);
  const [bandId, userId, fullBandId] = [uuid(), uuid(), uuid()];
  const passwordHash = await hashSecret(input.password);
  await database().transaction(async (transaction) => {
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
    await Group.create({ id: fullBandId, bandId, name: "Full Band", place: 99 }, { transaction });
  });
  return { bandId, userId, fullBandId };
}

function isTimeZone(name: string): boolean {
  try {
    return Boolean(new Intl.DateTimeFormat("en", { timeZone: name }));
  } catch {
    return false;
  }
}
