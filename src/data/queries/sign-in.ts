import { run, select } from "./select";

/**
 * Counts a try before it is made, in one statement, so that tries at the same moment are all counted.
 * @returns how many tries there were in this window, this one included
 */
export async function countTry(subject: string, windowSec: number): Promise<number> {
  const [row] = await select<{ failures: number }>(
    `INSERT INTO sign_in_attempts (subject, failures, window_start) VALUES (:subject, 1, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE
       failures = IF(window_start < UTC_TIMESTAMP(3) - INTERVAL :windowSec SECOND, 1, LEAST(failures + 1, 30000)),
       window_start = IF(window_start < UTC_TIMESTAMP(3) - INTERVAL :windowSec SECOND, UTC_TIMESTAMP(3), window_start)
     RETURNING failures`,
    { subject, windowSec },
  );
  return row!.failures;
}

/** Takes away what no sign-in needs any more. @returns how many rows went */
export async function sweepSignIns(windowSec: number, deviceDays: number): Promise<number> {
  return (
    (await run(
      "DELETE FROM sign_in_attempts WHERE window_start < UTC_TIMESTAMP(3) - INTERVAL :windowSec SECOND",
      {
        windowSec,
      },
    )) +
    (await run("DELETE FROM sessions WHERE expires_at < UTC_TIMESTAMP(3)")) +
    // Cards drawn anew can be taken back for a minute; the sign-ins they ended are kept so long.
    (await run(
      `DELETE FROM sessions WHERE ended_by IS NOT NULL AND ended_by NOT IN
         (SELECT id FROM card_draws WHERE created_at > UTC_TIMESTAMP(3) - INTERVAL 5 MINUTE)`,
    )) +
    (await run("DELETE FROM card_draws WHERE created_at < UTC_TIMESTAMP(3) - INTERVAL 1 DAY")) +
    (await run("DELETE FROM known_devices WHERE last_used_at < UTC_TIMESTAMP(3) - INTERVAL :deviceDays DAY", {
      deviceDays,
    }))
  );
}

export interface SessionOwner {
  userId: string | null;
  playerId: string | null;
  bandId: string;
  name: string;
}

/** Who holds a session that has not run out; undefined where nobody does. */
export async function ownerOfSession(tokenHash: string): Promise<SessionOwner | undefined> {
  const [row] = await select<SessionOwner>(
    `SELECT s.user_id AS userId, s.player_id AS playerId, s.band_id AS bandId, COALESCE(u.name, p.name) AS name
     FROM sessions s LEFT JOIN users u ON u.id = s.user_id LEFT JOIN players p ON p.id = s.player_id
     WHERE s.token_hash = :tokenHash AND s.expires_at > UTC_TIMESTAMP(3) AND s.ended_by IS NULL
       AND (s.player_id IS NULL OR p.left_on IS NULL)
       AND (s.user_id IS NULL OR EXISTS (SELECT 1 FROM memberships m
         WHERE m.user_id = s.user_id AND m.band_id = s.band_id AND m.left_at IS NULL))`,
    { tokenHash },
  );
  return row;
}
