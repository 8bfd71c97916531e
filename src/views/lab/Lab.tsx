import { useEffect, useRef, useState } from "react";
import { decodeInBrowser } from "../../client/sound";
import { type Assessment, assess, type Trace } from "../../core/listen";
import { instrumentNamed } from "../../core/music";
import { readMusicXml, timeline } from "../../core/score";
import { drawTrace, type Scene, WIDTH_A_SECOND } from "./draw";

/** A take with everything the engine made of it on the way: pitch, onsets, segments, path and verdicts over the spectrogram. */
export function Lab() {
  const [score, setScore] = useState<File>();
  const [sound, setSound] = useState<File>();
  const [scene, setScene] = useState<Scene>();
  const [said, setSaid] = useState("Choose a MusicXML part and a recording of it.");
  const canvas = useRef<HTMLCanvasElement>(null);

  useEffect(() => {
    if (!score || !sound) return;
    let left = false;
    setSaid("Listening …");
    look(score, sound).then(
      ({ scene: seen, assessment }) => {
        if (left) return;
        setScene(seen);
        setSaid(summary(assessment));
      },
      (problem: Error) => {
        if (left) return;
        setScene(undefined);
        setSaid(problem.message);
      },
    );
    return () => {
      left = true;
    };
  }, [score, sound]);

  useEffect(() => {
    if (scene && canvas.current) drawTrace(canvas.current, scene);
  }, [scene]);

  return (
    <>
      <div className="mb-3 flex flex-wrap gap-4">
        <label className="text-sm font-semibold">
          Part (MusicXML)
          <input
            type="file"
            accept=".musicxml,.xml,.mxl"
            className="file-input file-input-sm mt-1 block"
            onChange={(event) => setScore(event.target.files?.[0])}
          />
        </label>
        <label className="text-sm font-semibold">
          Recording
          <input
            type="file"
            accept="audio/*"
            className="file-input file-input-sm mt-1 block"
            onChange={(event) => setSound(event.target.files?.[0])}
          />
        </label>
      </div>
      <output className="mb-2 block text-sm">{said}</output>
      {scene && (
        <>
          <ul className="mb-2 flex flex-wrap gap-x-5 text-sm" aria-label="What the picture shows">
            <li>○ pitch of a frame, larger where it is clear</li>
            <li>▭ segment</li>
            <li>┄ from a segment to its written note</li>
            <li>✓ right, ✕ wrong pitch, – missed, + extra</li>
            <li>curves below: onset strength, level</li>
          </ul>
          <div className="overflow-x-auto rounded border border-base-300">
            <canvas
              ref={canvas}
              width={Math.min(30_000, Math.ceil(scene.trace.features.durationSec * WIDTH_A_SECOND))}
              height={620}
              role="img"
              aria-label="Pitch track, onset curve, alignment path and verdicts over the spectrogram"
            />
          </div>
        </>
      )}
    </>
  );
}

async function look(
  scoreFile: File,
  soundFile: File,
): Promise<{ scene: Scene | undefined; assessment: Assessment }> {
  const { score } = readMusicXml(new Uint8Array(await scoreFile.arrayBuffer()));
  const pcm = await decodeInBrowser(soundFile);
  const { name, soundsBy } = score.parts[0];
  const instrumentId = instrumentNamed(name, soundsBy.semitones)?.id;
  let trace: Trace | undefined;
  const assessment = assess(score, pcm, instrumentId ? { instrumentId } : {}, (seen) => {
    trace = seen;
  });
  return { scene: trace && { trace, assessment, notes: timeline(score).notes }, assessment };
}

function summary({ engineVersion, take, notes, extras, breaks }: Assessment): string {
  const count = (verdict: string) => notes.filter((note) => note.verdict === verdict).length;
  return [
    `Engine ${engineVersion}: ${take.status}`,
    take.tempoBpm && `${take.tempoBpm} beats a minute`,
    take.tuningCents !== null && `${take.tuningCents} cents`,
    `${count("ok")} right, ${count("wrong-pitch")} wrong, ${count("missed")} missed, ${extras.length} extra`,
    ...breaks.map((each) => `${each.kind} at ${each.atSec.toFixed(1)} s`),
    ...take.flags,
  ]
    .filter(Boolean)
    .join(" · ");
}
