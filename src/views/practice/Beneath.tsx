import { Problem } from "../../ui/Problem";

interface Props {
  title: string;
  says: string;
  problem: string;
  close: () => void;
  children: React.ReactNode;
}

/** A page beside the stand: its name, what it is for, and the way back. */
export function Beneath({ title, says, problem, close, children }: Props) {
  return (
    <main className="mx-auto flex min-h-screen max-w-3xl flex-col gap-4 px-4 pb-10 pt-2">
      <button type="button" className="btn btn-ghost -ml-2 h-11 self-start px-2" onClick={close}>
        ← My stand
      </button>
      <div>
        <h1 className="text-3xl">{title}</h1>
        <p className="text-quiet">{says}</p>
      </div>
      <Problem text={problem} />
      {children}
    </main>
  );
}
