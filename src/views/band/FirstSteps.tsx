import type { BandOverview } from "../../services/band/schema";

interface Props {
  band: BandOverview;
  /** Lines on the shelf, and assignments ever given. */
  lines: number;
  given: number;
  open: (what: "player" | "list") => void;
  drawCards: () => void;
}

/** The way from an empty band to a printed card and a first line given; gone once it is walked. */
export function FirstSteps({ band, lines, given, open, drawCards }: Props) {
  const carded = band.players.filter(({ hasCard }) => hasCard).length;
  if (band.players.length > 0 && carded > 0 && given > 0) return null;
  const steps = [
    {
      done: band.players.length > 0,
      title: "Bring your players in",
      text: "Paste the list from your spreadsheet: names and instruments are enough.",
      action: (
        <button type="button" className="btn btn-primary btn-sm" onClick={() => open("list")}>
          Bring a list in
        </button>
      ),
    },
    {
      done: carded > 0,
      title: "Print a card for each",
      text: "Four words and a square to show to a phone. No e-mail address is needed.",
      action: (
        <button type="button" className="btn btn-primary btn-sm" onClick={drawCards}>
          Draw cards for those without
        </button>
      ),
    },
    {
      done: given > 0,
      title: "Give a first line",
      text:
        lines > 0
          ? "Choose a line, see who is ready, put it on their stands."
          : "Put a first book on the shelf, or a line of your own; then put it on their stands.",
      action: (
        <a className="btn btn-primary btn-sm" href="/shelf">
          Go to the shelf
        </a>
      ),
    },
  ];
  const next = steps.findIndex(({ done }) => !done);
  return (
    <ol className="no-print panel grid gap-4 p-4 sm:grid-cols-3" aria-label="First steps">
      {steps.map(({ done, title, text, action }, place) => (
        <li
          key={title}
          className={`flex flex-col items-start gap-1 ${place > next && !done ? "text-quiet" : ""}`}
        >
          <h2 className="text-xl">
            {place + 1}. {title}
            {done && <span className="text-done"> ✓</span>}
          </h2>
          <p className="text-sm">{text}</p>
          {place === next && action}
        </li>
      ))}
    </ol>
  );
}
