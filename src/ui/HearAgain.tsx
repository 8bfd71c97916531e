import { call } from "../client/api";
import { Problem } from "./Problem";
import { useCall } from "./use-call";

interface Props {
  takeId: string;
  /** Finger-sized on a student's phone. */
  large?: boolean;
  done: () => void;
}

/** A take that the bench could not hear is given to it once more. */
export function HearAgain({ takeId, large = false, done }: Props) {
  const { busy, problem, run } = useCall();
  const again = async () => {
    if (await run(() => call("POST", `/api/takes/${takeId}/again`), "This did not work.")) done();
  };
  return (
    <>
      <button
        type="button"
        className={`btn ${large ? "h-11 border-base-300 bg-base-100" : "btn-sm"}`}
        disabled={busy}
        onClick={again}
      >
        Let the bench try again
      </button>
      <Problem text={problem} />
    </>
  );
}
