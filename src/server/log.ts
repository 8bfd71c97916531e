import pino from "pino";
import { config } from "./config";

let logger: pino.Logger | undefined;

/** The process log: JSON lines on standard error, without names, comments or secrets. */
export function log(): pino.Logger {
  logger ??= pino({ level: config().logLevel, base: null }, pino.destination(2));
  return logger;
}
