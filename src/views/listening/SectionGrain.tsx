import type { TakeDetail } from "../../services/listening/wire";

/** Bars of the line by instrument: darker where more takes went wrong. */
export function SectionGrain({
  section,
  score,
  lineId,
}: {
  section: TakeDetail["section"];
  score: TakeDetail["score"];
  lineId: string;
}) {
  const numbers = score.parts[0].measures.map((measure) => measure.number);
  return (
    <div>
      <h3 className="font-bold">
        <a className="hover:underline" href={`/listen/pattern?line=${lineId}`}>
          Same line, every section →
        </a>
      </h3>
      <table className="w-full table-fixed text-sm">
        <tbody>
          {section.map((row) => (
            <tr key={row.instrument}>
              <th scope="row" className="w-24 truncate text-left font-normal text-quiet">
                {row.instrument}
              </th>
              {row.bars.map((bar, i) => (
                <td
                  key={i}
                  className="p-px"
                  title={`bar ${numbers[i]}: wrong in ${bar.wrong} of ${bar.takes} takes`}
                >
                  <div
                    className="h-4 rounded-sm"
                    style={{
                      background: `rgba(122, 46, 93, ${bar.takes === 0 ? 0.04 : 0.08 + 0.8 * (bar.wrong / bar.takes)})`,
                    }}
                  >
                    <span className="sr-only">{`bar ${numbers[i]}: ${bar.wrong} of ${bar.takes}`}</span>
                  </div>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
