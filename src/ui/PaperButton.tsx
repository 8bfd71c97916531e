import { useState } from "react";
import type { PaperStep } from "../services/week/wire";
import { Problem } from "./Problem";

interface Props {
  /** Asks for the file. */
  address: string;
  fileName: string;
  sheets: number;
}

/** One PDF of a whole set, made by the server while the number of sheets is told. */
export function PaperButton({ address, fileName, sheets }: Props) {
  const [ready, setReady] = useState<number | null>(null);
  const [problem, setProblem] = useState("");
  const make = async () => {
    setProblem("");
    setReady(0);
    try {
      const response = await fetch(address);
      if (!response.ok || !response.body) {
        const answer = (await response.json()) as { error?: { message?: string } };
        throw new Refused(answer.error?.message ?? "");
      }
      await follow(response.body, {
        sheets: setReady,
        pdf: (text) => save(text, fileName),
        problem: setProblem,
      });
    } catch (error) {
      const said = error instanceof Refused ? error.message : "";
      setProblem(said || "The PDF could not be made. Try again in a moment.");
    } finally {
      setReady(null);
    }
  };
  return (
    <>
      <button
        type="button"
        className="btn border-base-300 bg-base-100"
        disabled={ready !== null || sheets === 0}
        onClick={make}
      >
        {ready === null
          ? "One PDF"
          : ready < sheets
            ? `${ready} of ${sheets} sheets …`
            : "putting it together …"}
      </button>
      <Problem text={problem} />
    </>
  );
}

class Refused extends Error {}

type Hears = {
  sheets: (count: number) => void;
  pdf: (text: string) => void;
  problem: (said: string) => void;
};

/** Reads the answer line by line as it comes. @throws Error when it ends without a word about how it went */
async function follow(body: ReadableStream<Uint8Array>, hears: Hears): Promise<void> {
  const reader = body.getReader();
  const letters = new TextDecoder();
  let rest = "";
  let ended = false;
  for (let chunk = await reader.read(); !chunk.done; chunk = await reader.read()) {
    const lines = (rest + letters.decode(chunk.value, { stream: true })).split("\n");
    rest = lines.pop() ?? "";
    for (const line of lines) {
      const step = JSON.parse(line) as PaperStep;
      if ("sheets" in step) hears.sheets(step.sheets);
      else ended = true;
      if ("pdf" in step) hears.pdf(step.pdf);
      if ("problem" in step) hears.problem(step.problem);
    }
  }
  if (!ended) throw new Error("The answer broke off");
}

function save(base64: string, fileName: string): void {
  const bytes = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
  const url = URL.createObjectURL(new Blob([bytes], { type: "application/pdf" }));
  const link = document.createElement("a");
  link.href = url;
  link.download = fileName;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 60_000);
}
