export { connect } from "./connection";
export { migrate } from "./migrate";
export * from "./models";
export * from "./queries";
