import { useCallback, useMemo, useRef, useState } from "react";
import { ApiError, call } from "../../client/api";
import { firstAnswerOfMany, hearsAtOnce } from "../../client/first-answer";
import { refusalOf } from "../../client/length";
import { decodeInBrowser } from "../../client/sound";
import { likeliest, readFileName } from "../../core/inbox";
import { groupBy } from "../../core/lists";
import { instrumentById } from "../../core/music";
import { type Score, timeline } from "../../core/score";
import type { BringTask } from "../../services/listening/wire";
import { nameList } from "../../ui/wording";

export interface FolderRow {
  key: string;
  file: File;
  /** With the folders it lies in. */
  path: string;
  playerId: string | null;
  taskId: string | null;
  /** How the task was found. */
  by: "name" | "sound" | "hand" | "only" | null;
  state: "waiting" | "looking" | "ready" | "asks" | "bringing" | "done" | "known" | "refused";
  problem: string;
  /** Tasks it may be of by its sound, where nobody is named. */
  may?: string[];
}

/** So many are sent at a time. */
const AT_ONCE = 2;
const SOUNDS = /\.(wav|flac|mp3|ogg|oga|opus|webm|m4a|aac|mp4|mov|caf)$/i;

/** A line that was given more than once is meant where it still waits to be sent, else where it is due last. */
function oncePerLine(own: readonly BringTask[]): BringTask[] {
  const waits = ({ state }: BringTask) => state === "open" || state === "again";
  return [...groupBy(own, ({ lineId }) => lineId).values()].map((same) => same.find(waits) ?? same[0]!);
}

/** Of the tasks of a part that several players have, each is heard against once a player and line. */
function oncePerPlayer(tasks: readonly BringTask[]): BringTask[] {
  return [...groupBy(tasks, ({ playerId }) => playerId).values()].flatMap(oncePerLine);
}

/** Parts that sound alike, on whatever instrument. */
const soundingOf = (score: Score): string =>
  timeline(score, { bpm: 60 })
    .notes.map(({ midi, onsetSec }) => `${midi ?? "x"}@${onsetSec}`)
    .join(" ");

/** A folder of recordings: whose each is, of which line, and how far bringing them in has come. */
export function useFolder(tasks: readonly BringTask[]) {
  const [rows, setRows] = useState<FolderRow[]>([]);
  const [left, setLeft] = useState(0);
  const [bringing, setBringing] = useState(false);
  const players = useMemo(() => [...new Map(tasks.map((task) => [task.playerId, task])).values()], [tasks]);
  const stopped = useRef(false);
  const waiting = useRef<FolderRow[]>([]);
  const paused = useRef(false);
  const [pausedLooking, setPausedLooking] = useState(false);
  const parts = useRef(new Map<string, Promise<{ score: Score }>>());
  const change = useCallback(
    (key: string, changed: Partial<FolderRow>) =>
      setRows((all) => all.map((row) => (row.key === key ? { ...row, ...changed } : row))),
    [],
  );

  /** The part of a line for an instrument, fetched once. */
  const partOf = ({ lineId, instrumentId }: BringTask) => {
    const key = `${lineId} ${instrumentId}`;
    const coming =
      parts.current.get(key) ??
      call<{ score: Score }>("GET", `/api/lines/${lineId}/score?instrument=${instrumentId}`);
    parts.current.set(key, coming);
    return coming;
  };

  /** Which of a player's lines a recording is of, by its sound. */
  const bySound = async (file: File, own: readonly BringTask[]) => {
    const pcm = await decodeInBrowser(file);
    const heard = await Promise.all(
      own.map(async (task) => {
        const { score } = await partOf(task);
        const options = { bpm: task.goalBpm, instrumentId: task.instrumentId };
        return { key: task.taskId, assessment: await firstAnswerOfMany(score, pcm, options) };
      }),
    );
    return likeliest(heard);
  };

  /**
   * Which line, and on which instruments, a recording is of that names nobody: heard against every part that sounds different.
   * @returns the tasks of those who may have played it; none where nothing is near
   */
  const byAnybody = async (file: File): Promise<BringTask[]> => {
    const parts = new Map<string, BringTask[]>();
    for (const task of oncePerPlayer(tasks)) {
      const sounding = soundingOf((await partOf(task)).score);
      parts.set(sounding, [...(parts.get(sounding) ?? []), task]);
    }
    const first = [...parts.values()].map(([one]) => one!);
    const likely = await bySound(file, first);
    return likely?.sure ? ([...parts.values()].find(([one]) => one!.taskId === likely.key) ?? []) : [];
  };

  const lookAt = async (row: FolderRow) => {
    const { file, path, key } = row;
    change(key, { state: "looking" });
    const refusal = /^video\/(?!webm)/.test(file.type)
      ? `${file.name} is a film. Save its sound as a recording first.`
      : await refusalOf(file);
    if (refusal) return change(key, { state: "refused", problem: refusal });
    const named = readFileName(
      path,
      players.map(({ playerId, playerName }) => ({ id: playerId, name: playerName })),
      [],
    ).playerId;
    if (!named) {
      const may = await byAnybody(file).catch(() => []);
      const [one] = may;
      // A line and an instrument are heard, a child is not: whoever it was is said by the director.
      if (!one) return change(key, { state: "asks", problem: "Whose is it?" });
      const instruments = [...new Set(may.map(({ instrumentId }) => instrumentById(instrumentId).name))];
      const line = one.lineNumber ? `No. ${one.lineNumber}` : one.lineTitle;
      return change(key, {
        state: "asks",
        may: may.map(({ taskId }) => taskId),
        problem: `Sounds like ${line} on ${nameList(instruments.slice(0, 3))}. Whose is it?`,
      });
    }
    const own = oncePerLine(tasks.filter(({ playerId }) => playerId === named));
    const lines = own.map(({ taskId, lineNumber, lineTitle }) => ({
      id: taskId,
      number: lineNumber,
      title: lineTitle,
    }));
    const line = readFileName(path, [], lines).lineId;
    if (line) return change(key, { state: "ready", playerId: named, taskId: line, by: "name" });
    if (own.length === 1)
      return change(key, { state: "ready", playerId: named, taskId: own[0]!.taskId, by: "only" });
    try {
      const likely = await bySound(file, own);
      return change(key, {
        playerId: named,
        taskId: likely?.key ?? null,
        by: likely ? "sound" : null,
        ...(likely?.sure
          ? { state: "ready", problem: "" }
          : { state: "asks", problem: likely ? "Probably this line: check it." : "Which line is it?" }),
      });
    } catch {
      return change(key, {
        state: "asks",
        playerId: named,
        problem: "This browser cannot play it. Which line is it?",
      });
    }
  };

  const look = async () => {
    const next = async (): Promise<void> => {
      const row = paused.current ? undefined : waiting.current.shift();
      if (!row) return;
      await lookAt(row);
      return next();
    };
    await Promise.all(Array.from({ length: hearsAtOnce() }, next));
  };

  return {
    rows,
    /** A task of every player there is one of. */
    players,
    /** Files that are no recordings. */
    left,
    bringing,
    async add(files: readonly File[]) {
      const sounds = files.filter((file) => SOUNDS.test(file.name) || /^(audio|video)\//.test(file.type));
      setLeft((before) => before + files.length - sounds.length);
      const fresh = sounds.map((file): FolderRow => {
        const path = file.webkitRelativePath || file.name;
        return {
          key: `${path} ${file.size} ${file.lastModified}`,
          file,
          path,
          playerId: null,
          taskId: null,
          by: null,
          state: "waiting",
          problem: "",
        };
      });
      const known = new Set(rows.map(({ key }) => key));
      const added = fresh.filter(({ key }) => !known.has(key));
      setRows((all) => [...all, ...added]);
      waiting.current.push(...added);
      await look();
    },
    /** Looks no further after those that are being looked at; and goes on. */
    pauseLooking(on: boolean) {
      paused.current = on;
      setPausedLooking(on);
      if (!on) void look();
    },
    pausedLooking,
    choose(key: string, changed: { playerId?: string | null; taskId?: string | null }) {
      setRows((all) =>
        all.map((row) => {
          if (row.key !== key) return row;
          const now = { ...row, ...changed, by: "hand" as const };
          // Another player's task is not this one's.
          if (changed.playerId !== undefined) {
            const own = oncePerLine(tasks.filter(({ playerId }) => playerId === changed.playerId));
            const heard = own.find(({ taskId }) => row.may?.includes(taskId));
            now.taskId = heard?.taskId ?? (own.length === 1 ? own[0]!.taskId : null);
          }
          return {
            ...now,
            ...(now.taskId
              ? { state: "ready", problem: "" }
              : { state: "asks", problem: "Which line is it?" }),
          };
        }),
      );
    },
    async bring() {
      setBringing(true);
      stopped.current = false;
      const ready = rows.filter(({ state }) => state === "ready");
      const next = async (): Promise<void> => {
        const row = ready.shift();
        if (!row || stopped.current) return;
        change(row.key, { state: "bringing" });
        try {
          const at = encodeURIComponent(new Date(row.file.lastModified).toISOString());
          const { known } = await call<{ known: boolean }>(
            "PUT",
            `/api/tasks/${row.taskId}/brought?at=${at}`,
            row.file,
          );
          change(row.key, { state: known ? "known" : "done" });
        } catch (error) {
          const said = error instanceof ApiError ? error.message : "It could not be brought in.";
          // Without connection it waits for another press; what the bench refused stays refused.
          const waits =
            error instanceof ApiError &&
            (error.code === "offline" || error.code === "busy" || error.code === "no-room");
          change(row.key, { state: waits ? "ready" : "refused", problem: said });
          if (waits) stopped.current = true;
        }
        return next();
      };
      await Promise.all(Array.from({ length: AT_ONCE }, next));
      setBringing(false);
    },
    stop() {
      stopped.current = true;
    },
  };
}
