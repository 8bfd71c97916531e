import { BarController, BarElement, CategoryScale, Chart, LinearScale, Tooltip } from "chart.js";
import { useEffect, useMemo, useRef, useState } from "react";
import type { GrowthCell, GrowthView } from "../../services/growth/schema";
import { type Packed, unpacked } from "../../ui/packed";
import { AtSight } from "./AtSight";
import { Tests } from "./Tests";

Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip);

const WORDS: Record<GrowthCell["state"], string> = {
  open: "not sent",
  sent: "waiting",
  again: "again",
  accepted: "accepted",
};

/** Players by lines: where each task stands, and how clean the best take was. */
export function GrowthTable({ data }: { data: Packed<GrowthView> }) {
  const growth = useMemo(() => unpacked(data), [data]);
  const [instrument, setInstrument] = useState("all");
  const instruments = useMemo(
    () => [...new Set(growth.players.map((player) => player.instrument))],
    [growth],
  );
  const players = growth.players.filter((player) => instrument === "all" || player.instrument === instrument);
  if (growth.players.length === 0) {
    return (
      <p className="panel p-6">
        Growth fills as takes are sent and heard. Assign a line such as No. 9 to a group to begin.
      </p>
    );
  }
  return (
    <div className="flex flex-col gap-4">
      <section className="panel p-4">
        <h2 className="mb-1 text-xl">Clean notes in the best takes, by line</h2>
        <p className="mb-2 text-sm text-quiet">
          Median over {instrument === "all" ? "everyone" : instrument} who sent one: right pitch, in time,
          full length.
        </p>
        <LineChart growth={growth} players={players} />
      </section>
      {growth.tests.length > 0 && <Tests tests={growth.tests} />}
      {growth.sight.length > 0 && <AtSight read={growth.sight} />}
      <label className="flex items-center gap-2">
        <span className="font-bold">Show</span>
        <select
          className="select border-neutral"
          value={instrument}
          onChange={(event) => setInstrument(event.target.value)}
        >
          <option value="all">all instruments</option>
          {instruments.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      </label>
      <div className="panel overflow-x-auto">
        <table className="table table-sm text-sm">
          <thead className="text-base-content">
            <tr>
              <th className="sticky left-0 bg-base-100">Player</th>
              {growth.lines.map((line) => (
                <th key={line.id} className="min-w-24 align-bottom">
                  <a href={`/shelf/${line.id}`} className="hover:underline">
                    {line.number ? `No. ${line.number}` : ""}{" "}
                    <span className="block font-normal text-quiet">{line.title}</span>
                  </a>
                </th>
              ))}
              <th className="align-bottom">Accepted</th>
            </tr>
          </thead>
          <tbody>
            {players.map((player) => (
              <tr key={player.id}>
                <th scope="row" className="sticky left-0 bg-base-100 font-normal">
                  <a className="font-bold hover:underline" href={`/band/${player.id}`}>
                    {player.name}
                  </a>
                  <span className="block text-sm text-quiet">{player.instrument}</span>
                </th>
                {player.cells.map((cell, index) => (
                  <td key={growth.lines[index]!.id}>
                    {cell ? <Cell cell={cell} /> : <span className="text-quiet">–</span>}
                  </td>
                ))}
                <td className="whitespace-nowrap">
                  {player.accepted} of {player.asked}
                  {player.chosen > 0 && (
                    <span className="block text-sm text-quiet">and {player.chosen} by own choice</span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}

function Cell({ cell }: { cell: GrowthCell }) {
  const tone = { open: "text-quiet", sent: "text-brass", again: "text-felt", accepted: "text-done" }[
    cell.state
  ];
  return (
    <div className="leading-tight">
      <span className="font-bold">{cell.cleanPercent === null ? "" : `${cell.cleanPercent} %`}</span>
      {cell.gain !== null && cell.gain > 0 && <span className="text-sm text-quiet"> +{cell.gain}</span>}
      <span className={`block text-sm ${tone}`}>
        {WORDS[cell.state]}
        {cell.mark !== null && `, marked ${cell.mark} %`}
      </span>
    </div>
  );
}

function LineChart({ growth, players }: { growth: GrowthView; players: GrowthView["players"] }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (!canvas.current) return;
    const medians = growth.lines.map((_, index) => {
      const shares = players
        .flatMap((player) => player.cells[index]?.cleanPercent ?? [])
        .sort((a, b) => a - b);
      return shares.length === 0 ? null : shares[Math.floor(shares.length / 2)]!;
    });
    const chart = new Chart(canvas.current, {
      type: "bar",
      data: {
        labels: growth.lines.map((line) => (line.number ? `No. ${line.number}` : line.title)),
        datasets: [
          { label: "clean notes, median %", data: medians, backgroundColor: "#1F6F6B", maxBarThickness: 42 },
        ],
      },
      options: {
        maintainAspectRatio: false,
        animation: false,
        scales: { y: { min: 0, max: 100, ticks: { stepSize: 25 } }, x: { grid: { display: false } } },
      },
    });
    return () => chart.destroy();
  }, [growth, players]);
  return (
    <div className="h-40">
      <canvas
        ref={canvas}
        role="img"
        aria-label="Median share of clean notes by line; the table below has the figures"
      />
    </div>
  );
}
