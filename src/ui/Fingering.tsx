/** Fingering text such as "T 1-- | 12-", "1-3", "4th position", drawn small beside its note names. */
export function FingeringList({
  notes,
}: {
  notes: { name: string; concert: string; fingering: string | null; verified: boolean }[];
}) {
  return (
    <ul className="flex flex-wrap gap-2">
      {notes.map((note) => (
        <li key={note.name} className="panel flex items-center gap-3 px-3 py-2">
          <span className="font-heading text-xl font-bold">{note.name}</span>
          {note.fingering && <Diagram text={note.fingering} />}
          <span className="text-sm text-quiet">
            {note.fingering ?? "strike the bar"}
            {!note.verified && (
              <span className="block" title="Written from memory; a director has not confirmed it yet">
                to be confirmed
              </span>
            )}
          </span>
        </li>
      ))}
    </ul>
  );
}

/** Own small picture: a staff of six finger dots in two hands, or three valves; the slide is a bar with a mark. */
function Diagram({ text }: { text: string }) {
  const holes = /([123½-]{3}) \| ([123½-]{3})/.exec(text);
  if (holes) {
    const fingers = [...holes[1]!, ...holes[2]!];
    return (
      <svg width="26" height="62" viewBox="0 0 26 62" aria-hidden="true" className="shrink-0">
        {/(^|\s)T(\s|$)/.test(text) && <circle cx="6" cy="6" r="4" className="fill-base-content" />}
        {/(^|\s)R(\s|$)/.test(text) && (
          <rect x="1" y="12" width="10" height="4" rx="2" className="fill-base-content" />
        )}
        {fingers.map((finger, i) => (
          <circle
            key={i}
            cx="18"
            cy={6 + i * 9 + (i > 2 ? 5 : 0)}
            r="3.6"
            className={
              finger === "-"
                ? "fill-none stroke-base-content"
                : finger === "½"
                  ? "fill-accent stroke-base-content"
                  : "fill-base-content stroke-base-content"
            }
          />
        ))}
        <path d="M12 28.5h12" className="stroke-base-300" />
      </svg>
    );
  }
  const position = /^(\d)\w\w position$/.exec(text);
  if (position) {
    return (
      <svg width="70" height="22" viewBox="0 0 70 22" aria-hidden="true" className="shrink-0">
        <path d="M4 7h62M4 15h62" className="stroke-base-300" strokeWidth="2" />
        <rect
          x={4 + (Number(position[1]) - 1) * 9.5}
          y="2"
          width="5"
          height="18"
          rx="2"
          className="fill-base-content"
        />
      </svg>
    );
  }
  const valves = text === "open" ? [] : text.split("-").map(Number);
  return (
    <svg width="54" height="24" viewBox="0 0 54 24" aria-hidden="true" className="shrink-0">
      {[1, 2, 3].map((valve) => (
        <rect
          key={valve}
          x={(valve - 1) * 18 + 2}
          y={valves.includes(valve) ? 8 : 2}
          width="13"
          height="13"
          rx="3"
          className={
            valves.includes(valve) ? "fill-base-content stroke-base-content" : "fill-none stroke-base-content"
          }
        />
      ))}
    </svg>
  );
}
