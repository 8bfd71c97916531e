/** Who is asking. Every service takes one and decides. */
export type Actor = Nobody | Director | PlayerActor | Remote | StandIn;
export interface Nobody {
  kind: "nobody";
}
export interface Director {
  kind: "director";
  userId: string;
  bandId: string;
  name: string;
}
export interface PlayerActor {
  kind: "player";
  playerId: string;
  bandId: string;
  name: string;
}

/** A phone that joined one lesson by its code. */
export interface Remote {
  kind: "remote";
  roomId: string;
  bandId: string;
}
/** Somebody who leads lessons on some days, without an account. */
export interface StandIn {
  kind: "stand-in";
  passId: string;
  bandId: string;
  name: string;
}

export type ErrorCode =
  | "sign-in-needed"
  | "not-allowed"
  | "not-found"
  | "bad-input"
  | "too-many-tries"
  | "too-large"
  | "conflict"
  | "quota"
  | "busy"
  | "no-room";

const STATUS: Record<ErrorCode, number> = {
  "sign-in-needed": 401,
  "not-allowed": 403,
  "not-found": 404,
  "bad-input": 400,
  "too-many-tries": 429,
  "too-large": 413,
  conflict: 409,
  quota: 429,
  busy: 503,
  "no-room": 507,
};

/** A refusal with one sentence for the person who asked. */
export class ServiceError extends Error {
  readonly status: number;
  constructor(
    readonly code: ErrorCode,
    message: string,
    readonly fields?: Record<string, string>,
  ) {
    super(message);
    this.status = STATUS[code];
  }
}

/** @throws ServiceError unless a director is asking */
export function director(actor: Actor): Director {
  if (actor.kind === "director") return actor;
  throw actor.kind === "nobody"
    ? new ServiceError("sign-in-needed", "Please sign in first.")
    : new ServiceError("not-allowed", "Only the band's director can do this.");
}

/** @throws ServiceError unless a player is asking */
export function player(actor: Actor): PlayerActor {
  if (actor.kind === "player") return actor;
  throw actor.kind === "nobody"
    ? new ServiceError("sign-in-needed", "Please sign in first.")
    : new ServiceError("not-allowed", "This page belongs to a player of the band.");
}

/** @throws ServiceError unless somebody is signed in */
export function somebody(actor: Actor): Director | PlayerActor {
  if (actor.kind === "director" || actor.kind === "player") return actor;
  throw new ServiceError("sign-in-needed", "Please sign in first.");
}

/** What belongs to another band does not exist for this one. */
export function found<T>(row: T | null | undefined, what: string): T {
  if (row) return row;
  throw new ServiceError("not-found", `This ${what} does not exist, or it belongs to another band.`);
}
