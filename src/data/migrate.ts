import type { Sequelize } from "sequelize";
import { SequelizeStorage, Umzug } from "umzug";
import { people } from "./migrations/001-people";
import { material } from "./migrations/002-material";
import { practice } from "./migrations/003-practice";
import { listening } from "./migrations/004-listening";
import { operations } from "./migrations/005-operations";
import { instrumentBuilds } from "./migrations/006-instrument-builds";
import { bandFingerings } from "./migrations/007-band-fingerings";
import { teachingOrder } from "./migrations/008-teaching-order";
import { taskParts } from "./migrations/009-task-parts";
import { pencil } from "./migrations/010-pencil";
import { ownAudio } from "./migrations/011-own-audio";
import { savedViews } from "./migrations/012-saved-views";
import { warmUpsAndCounting } from "./migrations/013-warm-ups-and-counting";
import { soundGround } from "./migrations/014-sound-ground";
import { livingBand } from "./migrations/015-living-band";
import { planning } from "./migrations/016-planning";
import { giving } from "./migrations/017-giving";
import { pieces } from "./migrations/018-pieces";
import { practiceRoom } from "./migrations/019-practice-room";
import { ownWays } from "./migrations/020-own-ways";
import { theDesk } from "./migrations/021-the-desk";
import { marking } from "./migrations/022-marking";
import { theRoom } from "./migrations/023-the-room";
import { lessonsGoOn } from "./migrations/024-lessons-go-on";

/** Forward only, in this order. Each is restartable: every statement may be run again (MariaDB's DDL is not transactional). */
const MIGRATIONS: Record<string, readonly string[]> = {
  "001-people": people,
  "002-material": material,
  "003-practice": practice,
  "004-listening": listening,
  "005-operations": operations,
  "006-instrument-builds": instrumentBuilds,
  "007-band-fingerings": bandFingerings,
  "008-teaching-order": teachingOrder,
  "009-task-parts": taskParts,
  "010-pencil": pencil,
  "011-own-audio": ownAudio,
  "012-saved-views": savedViews,
  "013-warm-ups-and-counting": warmUpsAndCounting,
  "014-sound-ground": soundGround,
  "015-living-band": livingBand,
  "016-planning": planning,
  "017-giving": giving,
  "018-pieces": pieces,
  "019-practice-room": practiceRoom,
  "020-own-ways": ownWays,
  "021-the-desk": theDesk,
  "022-marking": marking,
  "023-the-room": theRoom,
  "024-lessons-go-on": lessonsGoOn,
};

/** Brings the database to the newest form. @returns names of the migrations that were applied now */
export async function migrate(db: Sequelize): Promise<string[]> {
  const umzug = new Umzug({
    migrations: Object.entries(MIGRATIONS).map(([name, statements]) => ({
      name,
      up: async () => {
        for (const statement of statements) await db.query(statement);
      },
    })),
    storage: new SequelizeStorage({ sequelize: db, tableName: "migrations" }),
    logger: undefined,
  });
  return (await umzug.up()).map((migration) => migration.name);
}
