import type { Sequelize } from "sequelize";
import { defineBandLife } from "./band-life";
import { defineDesk } from "./desk";
import { defineKnowledge } from "./knowledge";
import { defineListening } from "./listening";
import { defineMaterial } from "./material";
import { defineOperations } from "./operations";
import { definePeople } from "./people";
import { definePlanning } from "./planning";
import { definePractice } from "./practice";
import { definePracticeRoom } from "./practice-room";
import { definePreparation } from "./preparation";
import { defineRoom } from "./room";

export * from "./band-life";
export * from "./desk";
export * from "./knowledge";
export * from "./listening";
export * from "./material";
export * from "./operations";
export * from "./people";
export * from "./planning";
export * from "./practice";
export * from "./practice-room";
export * from "./preparation";
export * from "./room";

/** Binds every model to a connection. */
export function defineModels(sequelize: Sequelize) {
  definePeople(sequelize);
  defineMaterial(sequelize);
  definePreparation(sequelize);
  definePractice(sequelize);
  definePracticeRoom(sequelize);
  defineListening(sequelize);
  defineDesk(sequelize);
  defineKnowledge(sequelize);
  defineBandLife(sequelize);
  definePlanning(sequelize);
  defineRoom(sequelize);
  defineOperations(sequelize);
}
