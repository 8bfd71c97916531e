import {
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from "sequelize";
import { columns, instant, json, key, optionalInstant, optionalRef, ref, text } from "./definitions";

/** A change of people, as they were before and after it: what undo puts back. */
export class BandChange extends Model<InferAttributes<BandChange>, InferCreationAttributes<BandChange>> {
  declare id: string;
  declare bandId: string;
  declare userId: string;
  /** What was done, as the director is told. */
  declare said: string;
  declare peopleBefore: unknown;
  declare peopleAfter: unknown;
  declare createdAt: Date;
  declare undoneAt: CreationOptional<Date | null>;
}

/** Cards drawn at once, with what the ones before them opened with. */
export class CardDraw extends Model<InferAttributes<CardDraw>, InferCreationAttributes<CardDraw>> {
  declare id: string;
  declare bandId: string;
  declare ended: [playerId: string, secretHash: string | null][];
  declare createdAt: Date;
}

/** Opens an account once when its password is lost. */
export class RecoveryCode extends Model<
  InferAttributes<RecoveryCode>,
  InferCreationAttributes<RecoveryCode>
> {
  declare userId: string;
  declare codeHash: string;
  declare usedAt: CreationOptional<Date | null>;
}

/** Opens the way into a band for a further director, or to a band of one's own. */
export class Invitation extends Model<InferAttributes<Invitation>, InferCreationAttributes<Invitation>> {
  declare id: string;
  declare bandId: CreationOptional<string | null>;
  declare email: string;
  declare tokenHash: string;
  declare expiresAt: Date;
  declare usedAt: CreationOptional<Date | null>;
}

/** A letter that a mail server would carry. */
export class OutboxLetter extends Model<
  InferAttributes<OutboxLetter>,
  InferCreationAttributes<OutboxLetter>
> {
  declare id: string;
  declare bandId: string;
  declare recipient: string;
  declare subject: string;
  declare body: string;
  declare createdAt: Date;
}

export function defineBandLife(sequelize: Sequelize) {
  BandChange.init(
    columns({
      id: key,
      bandId: ref,
      userId: ref,
      said: text,
      peopleBefore: json,
      peopleAfter: json,
      createdAt: instant,
      undoneAt: optionalInstant,
    }),
    { sequelize, tableName: "band_changes" },
  );
  CardDraw.init(columns({ id: key, bandId: ref, ended: json, createdAt: instant }), {
    sequelize,
    tableName: "card_draws",
  });
  RecoveryCode.init(
    columns({ userId: key, codeHash: { ...text, primaryKey: true }, usedAt: optionalInstant }),
    { sequelize, tableName: "recovery_codes" },
  );
  Invitation.init(
    columns({
      id: key,
      bandId: optionalRef,
      email: text,
      tokenHash: text,
      expiresAt: instant,
      usedAt: optionalInstant,
    }),
    { sequelize, tableName: "invitations" },
  );
  OutboxLetter.init(
    columns({ id: key, bandId: ref, recipient: text, subject: text, body: text, createdAt: instant }),
    { sequelize, tableName: "outbox" },
  );
}
