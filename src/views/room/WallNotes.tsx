import { useEffect, useState } from "react";
import { call } from "../../client/api";
import { Notation } from "../../ui/Notation";
import type { Place } from "./place";
import type { Wall } from "./use-wall";

/** Pictures of a lesson by line and part, fetched once and kept: the wall goes on without the network. */
const pictures = new Map<string, Promise<string>>();

export function pictureOf(roomId: string, lineId: string, part: string): Promise<string> {
  const key = `${roomId}/${lineId}/${part}`;
  const known = pictures.get(key);
  if (known) return known;
  const coming = call<{ svg: string }>("GET", `/api/room/${roomId}/notes?line=${lineId}&part=${part}`).then(
    ({ svg }) => svg,
  );
  pictures.set(key, coming);
  coming.catch(() => pictures.delete(key));
  return coming;
}

/** The notation of one part, or the counting page, with a cursor on the beat. */
export function WallNotes({ wall, place, roomId }: { wall: Wall; place: Place; roomId: string }) {
  const { tune, state, sheet, stretches } = wall;
  const [svg, setSvg] = useState("");
  const lineId = tune?.lineId ?? null;
  const { part } = state;
  useEffect(() => {
    let over = false;
    setSvg("");
    if (lineId)
      pictureOf(roomId, lineId, part).then(
        (picture) => over || setSvg(picture),
        () => over || setSvg("none"),
      );
    return () => {
      over = true;
    };
  }, [roomId, lineId, part]);
  if (!tune) return null;
  const picture = tune.slide || svg;
  const label = sheet.instruments.find(({ id }) => id === part)?.label ?? "Concert pitch";
  const row = tune.rows.find(({ instrumentIds }) => instrumentIds.includes(part)) ?? tune.rows[0];
  const beat = place.moment?.bar == null ? null : place.moment.beat + place.moment.share;
  const cursor =
    beat === null
      ? null
      : row?.notes.findLast((note) => note.bar === place.bar && note.beat <= beat + 1e-6)?.eventId;
  if (picture === "none")
    return <p>The notes of this part could not be fetched. The names go on without them.</p>;
  return (
    <div className="flex h-full flex-col">
      {!tune.slide && <p>{label}</p>}
      <div
        data-theme="bench"
        className="wall-notation min-h-0 flex-1 overflow-hidden rounded-md p-[1vw]"
        data-testid="wall-notes"
      >
        {picture && (
          <Notation
            svg={picture}
            label={`${wall.block?.title}, ${label}`}
            cursorId={cursor ?? null}
            {...(stretches.length === 1 ? { passage: { from: stretches[0]![0], to: stretches[0]![1] } } : {})}
          />
        )}
      </div>
    </div>
  );
}
