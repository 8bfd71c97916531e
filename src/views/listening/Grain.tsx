import type { PatternView, SectionRow } from "../../services/listening/wire";
import { CAUSE_NAMES } from "../../ui/wording";

export type Line = NonNullable<PatternView["line"]>;
/** A section and one of its bars. */
export interface Chosen {
  section: SectionRow;
  bar: number;
}

/** So many kinds of error are named beside a section. */
const MOST_CAUSES = 3;

/** Bars by sections: darker where more takes went wrong; a ring where the line's own snags foretold it. */
export function Grain({
  line,
  chosen,
  choose,
}: {
  line: Line;
  chosen: Chosen | null;
  choose: (chosen: Chosen) => void;
}) {
  return (
    <div className="panel overflow-x-auto p-3">
      <table className="text-sm" data-testid="grain">
        <thead>
          <tr>
            <th className="sr-only">section</th>
            {line.bars.map((number) => (
              <th key={number} scope="col" className="w-10 text-center font-normal text-quiet">
                {number === "0" ? "pickup" : number}
              </th>
            ))}
            <th className="pl-3 text-left font-normal text-quiet">most often</th>
          </tr>
        </thead>
        <tbody>
          {line.sections.map((section) => (
            <tr key={section.instrumentId}>
              <th scope="row" className="whitespace-nowrap pr-3 text-left font-normal">
                {section.instrument} <span className="text-quiet">({section.takes})</span>
              </th>
              {section.bars.map((bar, index) => (
                <td key={line.bars[index]} className="p-px">
                  <button
                    type="button"
                    aria-pressed={chosen?.section === section && chosen.bar === index}
                    aria-label={`${section.instrument}, bar ${line.bars[index]}: wrong in ${bar.wrong} of ${bar.takes} takes${bar.predicted ? ", foretold" : ""}`}
                    className={`h-7 w-10 rounded-sm text-xs ${bar.predicted ? "border-2 border-accent" : "border border-base-300"} ${chosen?.section === section && chosen.bar === index ? "outline-3 outline-accent" : ""} ${shade(bar) > 0.5 ? "text-white" : ""}`}
                    style={{ background: `rgba(122, 46, 93, ${shade(bar)})` }}
                    onClick={() => choose({ section, bar: index })}
                  >
                    {bar.wrong > 0 ? bar.wrong : ""}
                  </button>
                </td>
              ))}
              <td className="whitespace-nowrap pl-3">
                {section.causes
                  .slice(0, MOST_CAUSES)
                  .map(({ kind, takes }) => `${CAUSE_NAMES[kind]} ${takes}`)
                  .join(" · ") || "clean"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 text-sm text-quiet">
        The number is takes in which the bar went wrong, darker with a larger share. A brass frame: the line's
        own snags foretold it for this instrument. {foretold(line)}
      </p>
    </div>
  );
}

const shade = ({ wrong, takes }: SectionRow["bars"][number]) => (takes === 0 ? 0 : 0.85 * (wrong / takes));

/** How the snags that were foretold came out: hit, missed, false. */
function foretold({ sections }: Line): string {
  const bars = sections.flatMap((section) => section.bars).filter(({ takes }) => takes > 0);
  const often = (bar: SectionRow["bars"][number]) => bar.wrong >= 2 || bar.wrong / bar.takes >= 0.5;
  const hit = bars.filter((bar) => bar.predicted && often(bar)).length;
  const unseen = bars.filter((bar) => !bar.predicted && often(bar)).length;
  const spared = bars.filter((bar) => bar.predicted && !often(bar)).length;
  return `Of the places that went wrong often, ${hit} ${hit === 1 ? "was" : "were"} foretold and ${unseen} ${unseen === 1 ? "was" : "were"} not; ${spared} foretold ${spared === 1 ? "one" : "ones"} went well.`;
}
