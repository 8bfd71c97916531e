#!/usr/bin/env node
import { parseArgs } from "node:util";

const USAGE = `ulu: the command line of Ulu Bench
  ulu assess --score FILE --audio FILE [--mode melody|rhythm|longtone] [--tempo BPM] [--no-repeats] --json
  ulu migrate                                     bring the database to its newest form
  ulu work                                        assess waiting takes until stopped
  ulu reassess --code CODE                        let the present engine hear all takes of a band again
  ulu new-band --name NAME --town TOWN --code CODE --zone ZONE --director NAME --email EMAIL
                                                  make a band with its director; the password is read from ULU_PASSWORD
  ulu invite-band                                 a code by which somebody makes a band in the application`;

/** A wrong call or unreadable input: one line on standard error and exit code 2. */
class Refusal extends Error {}

async function main(args: string[]): Promise<void> {
  const [command, ...rest] = args;
  switch (command) {
    case "assess":
      return (await import("./assess")).assessCommand(
        options(rest, {
          score: "string",
          audio: "string",
          mode: "string",
          tempo: "string",
          "no-repeats": "boolean",
          json: "boolean",
        }),
        refuse,
      );
    case "migrate":
      return (await import("./operate")).migrateCommand();
    case "work":
      return (await import("./operate")).workCommand();
    case "reassess":
      return (await import("./operate")).reassessCommand(options(rest, { code: "string" }), refuse);
    case "new-band":
      return (await import("./operate")).newBandCommand(
        options(rest, {
          name: "string",
          town: "string",
          code: "string",
          zone: "string",
          director: "string",
          email: "string",
        }),
        refuse,
      );
    case "invite-band":
      return (await import("./operate")).inviteBandCommand();
    case undefined:
    case "help":
    case "--help":
      console.log(USAGE);
      return;
    default:
      refuse(`There is no command "${command}"; say ulu help.`);
  }
}

function options(
  args: string[],
  names: Record<string, "string" | "boolean">,
): Record<string, string | boolean | undefined> {
  try {
    return parseArgs({
      args,
      options: Object.fromEntries(Object.entries(names).map(([name, type]) => [name, { type }])),
    }).values as Record<string, string | boolean | undefined>;
  } catch (error) {
    return refuse((error as Error).message.split("\n")[0]!);
  }
}

function refuse(sentence: string): never {
  throw new Refusal(sentence);
}

// Who reads may go away when they have seen enough (a pager, head); a full disk is said.
process.stdout.on("error", (error: NodeJS.ErrnoException) => {
  if (error.code === "EPIPE") process.exit();
  process.stderr.write(`The answer could not be written (${error.code}).\n`);
  process.exit(2);
});

main(process.argv.slice(2)).catch((error: Error) => {
  process.stderr.write(
    `${error instanceof Refusal || process.env.ULU_TRACE !== "yes" ? error.message.split("\n")[0] : error.stack}\n`,
  );
  process.exitCode = 2;
});
