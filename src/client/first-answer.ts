import type { Pcm } from "../core/audio";
import type { Assessment, AssessOptions, Gap, Sung } from "../core/listen";
import type { Score } from "../core/score";

/** What the listening worker is asked; a take that is followed has one id from its first block to its end. */
export type ListenRequest = { id: number } & (
  | { kind: "assess"; score: Score; pcm: Pcm; options: AssessOptions }
  | { kind: "sing"; score: Score; pcm: Pcm; bpm: number; lineAtSec: number; a4Hz: number }
  | { kind: "follow"; score: Score; sampleRate: number; options: AssessOptions }
  | { kind: "block"; block: Float32Array }
  | { kind: "end"; gaps: Gap[] }
  | { kind: "forget" }
);
export interface ListenAnswer {
  id: number;
  /** Null where a take that was followed has to be heard anew. */
  assessment?: Assessment | null;
  sung?: Sung;
  problem?: string;
}

interface Turn {
  resolve: (answer: ListenAnswer) => void;
  reject: (error: Error) => void;
}

let asked = 0;

/** A listening worker, started when it is first asked. */
class Engine {
  private readonly waiting = new Map<number, Turn>();
  private worker: Worker | undefined;

  post(request: ListenRequest): void {
    this.worker ??= this.start();
    this.worker.postMessage(request);
  }

  ask(request: ListenRequest): Promise<ListenAnswer> {
    return new Promise((resolve, reject) => {
      this.waiting.set(request.id, { resolve, reject });
      this.post(request);
    });
  }

  /** Questions that wait for their answer. */
  get busy(): number {
    return this.waiting.size;
  }

  private start(): Worker {
    const worker = new Worker(new URL("../workers/listen.worker.ts", import.meta.url), { type: "module" });
    worker.onmessage = ({ data }: MessageEvent<ListenAnswer>) => {
      const turn = this.waiting.get(data.id);
      this.waiting.delete(data.id);
      if (data.problem === undefined) turn?.resolve(data);
      else turn?.reject(new Error(data.problem));
    };
    worker.onerror = () => {
      for (const turn of this.waiting.values())
        turn.reject(new Error("The listening worker could not start."));
      this.waiting.clear();
      this.worker = undefined;
    };
    return worker;
  }
}

const engine = new Engine();

/** More listening workers than this want more memory than a school's laptop has. */
const MOST_ENGINES = 6;
let engines: Engine[] | undefined;

/** As many takes are heard at once in the background of this page. */
export const hearsAtOnce = (): number =>
  typeof navigator === "undefined" ? 1 : Math.min(MOST_ENGINES, navigator.hardwareConcurrency || 2);

/** Assesses one of many takes, on all cores of this device. @throws Error with a sentence when it cannot */
export async function firstAnswerOfMany(score: Score, pcm: Pcm, options: AssessOptions): Promise<Assessment> {
  engines ??= Array.from({ length: hearsAtOnce() }, () => new Engine());
  const idle = engines.reduce((least, each) => (each.busy < least.busy ? each : least));
  return (await idle.ask({ id: ++asked, kind: "assess", score, pcm, options })).assessment!;
}

/** Assesses a take in the background of this page. @throws Error with a sentence when it cannot */
export async function firstAnswer(score: Score, pcm: Pcm, options: AssessOptions): Promise<Assessment> {
  return (await engine.ask({ id: ++asked, kind: "assess", score, pcm, options })).assessment!;
}

/** Listens to singing in the background of this page, see `listenToSinging`. @throws Error with a sentence when it cannot */
export async function hearSinging(
  score: Score,
  pcm: Pcm,
  about: { bpm: number; lineAtSec: number; a4Hz: number },
): Promise<Sung> {
  return (await engine.ask({ id: ++asked, kind: "sing", score, pcm, ...about })).sung!;
}

/** A take that is heard in the background while it is recorded. */
export interface Following {
  /** The next sound; the block may be used on. */
  add(block: Float32Array): void;
  /** @returns null where the take has to be heard anew as a whole */
  end(gaps: Gap[]): Promise<Assessment | null>;
  /** Nobody wants an answer. */
  forget(): void;
}

/**
 * Hears a take while it is recorded, so that its answer comes right after the stop.
 * @param sampleRate  of the blocks, Hz
 */
export function followSound(score: Score, sampleRate: number, options: AssessOptions): Following {
  const id = ++asked;
  engine.post({ id, kind: "follow", score, sampleRate, options });
  return {
    add: (block) => engine.post({ id, kind: "block", block }),
    end: (gaps) =>
      engine.ask({ id, kind: "end", gaps }).then(
        ({ assessment }) => assessment ?? null,
        () => null,
      ),
    forget: () => engine.post({ id, kind: "forget" }),
  };
}
