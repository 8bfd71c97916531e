import { Worker } from "node:worker_threads";

export interface ThreadPool<Request, Answer> {
  /** Rejects with the thread's own sentence, or when the thread dies. */
  run(request: Request): Promise<Answer>;
  close(): Promise<void>;
}

interface Waiting<Request, Answer> {
  request: Request;
  resolve: (answer: Answer) => void;
  reject: (error: Error) => void;
}

/**
 * A fixed number of worker threads that answer one request at a time each. A thread answers with
 * `{answer}` or `{problem}`; one that dies fails its request only and is replaced.
 */
export function threadPool<Request, Answer>(file: string, size: number): ThreadPool<Request, Answer> {
  const queue: Waiting<Request, Answer>[] = [];
  const threads: { worker: Worker; busy: Waiting<Request, Answer> | null }[] = [];
  let closed = false;

  const start = () => {
    const thread: (typeof threads)[number] = { worker: new Worker(file), busy: null };
    thread.worker.unref();
    thread.worker.on("message", (message: { answer?: Answer; problem?: string }) => {
      const done = thread.busy;
      thread.busy = null;
      if (message.problem !== undefined) done?.reject(new Error(message.problem));
      else done?.resolve(message.answer as Answer);
      next();
    });
    const fail = (error: Error) => {
      threads.splice(threads.indexOf(thread), 1);
      thread.busy?.reject(error);
      thread.busy = null;
      if (!closed) next();
    };
    thread.worker.on("error", fail);
    thread.worker.on("exit", (code) => {
      if (threads.includes(thread)) fail(new Error(`A worker thread ended with code ${code}`));
    });
    threads.push(thread);
    return thread;
  };

  const next = () => {
    if (queue.length === 0) return;
    const idle = threads.find((thread) => !thread.busy) ?? (threads.length < size ? start() : undefined);
    if (!idle) return;
    idle.busy = queue.shift()!;
    idle.worker.ref();
    idle.worker.postMessage(idle.busy.request);
  };

  return {
    run: (request) =>
      new Promise((resolve, reject) => {
        queue.push({ request, resolve, reject });
        next();
      }),
    close: async () => {
      closed = true;
      await Promise.all(threads.map((thread) => thread.worker.terminate()));
    },
  };
}
