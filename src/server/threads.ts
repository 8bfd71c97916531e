import { Worker } from "node:worker_threads";

export interface ThreadPool<Request, Answer> {
  /**
   * Rejects with the thread's own sentence, with an OverrunError when the request took too long or too much memory, or
   * when the thread dies.
   * @param patient  a request that many others of its kind belong to (a printed set): it lets single ones pass and never
   *   takes the last free thread
   */
  run(request: Request, patient?: boolean): Promise<Answer>;
  close(): Promise<void>;
}

export interface PoolLimits {
  /** Threads at work at once. */
  size: number;
  /** One request's longest time, ms; the thread is ended with it. */
  longestMs: number;
  /** Largest JavaScript heap of a thread, MB. */
  memoryMb: number;
}

/** A request that was stopped because it needed more time or memory than any honest one does. */
export class OverrunError extends Error {}

interface Waiting<Request, Answer> {
  request: Request;
  patient: boolean;
  resolve: (answer: Answer) => void;
  reject: (error: Error) => void;
}

interface Thread<Request, Answer> {
  worker: Worker;
  busy: Waiting<Request, Answer> | null;
  timer: NodeJS.Timeout | undefined;
}

/**
 * A fixed number of worker threads that answer one request at a time each. A thread answers with `{answer}` or
 * `{problem}`; one that dies, runs out of memory or does not come to an end fails its request only and is replaced.
 */
export function threadPool<Request, Answer>(
  file: string,
  { size, longestMs, memoryMb }: PoolLimits,
): ThreadPool<Request, Answer> {
  const queue: Waiting<Request, Answer>[] = [];
  const threads: Thread<Request, Answer>[] = [];
  let closed = false;

  const start = () => {
    const worker = new Worker(file, { resourceLimits: { maxOldGenerationSizeMb: memoryMb } });
    const thread: Thread<Request, Answer> = { worker, busy: null, timer: undefined };
    worker.unref();
    worker.on("message", (message: { answer?: Answer; problem?: string }) => {
      const done = thread.busy;
      clearTimeout(thread.timer);
      thread.busy = null;
      worker.unref();
      if (message.problem !== undefined) done?.reject(new Error(message.problem));
      else done?.resolve(message.answer as Answer);
      next();
    });
    worker.on("error", (error) => {
      const overrun = (error as NodeJS.ErrnoException).code === "ERR_WORKER_OUT_OF_MEMORY";
      drop(
        thread,
        overrun ? new OverrunError("This took more memory than the bench gives to one thing") : error,
      );
    });
    worker.on("exit", (code) => drop(thread, new Error(`A worker thread ended with code ${code}`)));
    threads.push(thread);
    return thread;
  };

  const drop = (thread: Thread<Request, Answer>, reason: Error) => {
    const place = threads.indexOf(thread);
    if (place < 0) return;
    threads.splice(place, 1);
    clearTimeout(thread.timer);
    thread.busy?.reject(reason);
    thread.busy = null;
    if (!closed) next();
  };

  const stop = (thread: Thread<Request, Answer>) => {
    drop(
      thread,
      new OverrunError(`This took longer than the ${longestMs / 1000} s the bench gives to one thing`),
    );
    void thread.worker.terminate();
  };

  /** Single requests first; patient ones as long as a thread stays free for what comes next. */
  const takeNext = (): Waiting<Request, Answer> | undefined => {
    const single = queue.findIndex((waiting) => !waiting.patient);
    if (single >= 0) return queue.splice(single, 1)[0];
    const patientAtWork = threads.filter((thread) => thread.busy?.patient).length;
    return patientAtWork < Math.max(1, size - 1) ? queue.shift() : undefined;
  };

  const next = () => {
    while (queue.length > 0) {
      const free = threads.find((thread) => !thread.busy);
      if (!free && threads.length >= size) return;
      const request = takeNext();
      if (!request) return;
      const thread = free ?? start();
      thread.busy = request;
      thread.timer = setTimeout(() => stop(thread), longestMs);
      thread.worker.ref();
      thread.worker.postMessage(request.request);
    }
  };

  return {
    run: (request, patient = false) =>
      new Promise((resolve, reject) => {
        queue.push({ request, patient, resolve, reject });
        next();
      }),
    close: async () => {
      closed = true;
      for (const waiting of queue.splice(0)) waiting.reject(new Error("The bench is stopping"));
      await Promise.all([...threads].map((thread) => thread.worker.terminate()));
    },
  };
}
