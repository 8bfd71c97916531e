import type { Sequelize } from "sequelize";
import { definePeople } from "./people";
import { defineMaterial } from "./material";
import { definePractice } from "./practice";
import { defineListening } from "./listening";
import { defineOperations } from "./operations";

export * from "./people";
export * from "./material";
export * from "./practice";
export * from "./listening";
export * from "./operations";

/** Binds every model to a connection. */
export function defineModels(sequelize: Sequelize) {
  definePeople(sequelize);
  defineMaterial(sequelize);
  definePractice(sequelize);
  defineListening(sequelize);
  defineOperations(sequelize);
}
