import { call } from "../../client/api";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { useReady } from "../../ui/use-ready";

/** Puts the book that comes with the bench on an empty shelf. */
export function BringBook() {
  const ready = useReady();
  const { busy, problem, run } = useCall();
  const bring = async () => {
    if (await run(() => call("POST", "/api/books"), "The book could not be put on the shelf."))
      location.reload();
  };
  return (
    <>
      <button type="button" className="btn btn-primary" disabled={!ready || busy} onClick={bring}>
        {busy ? "Putting it on the shelf …" : "Put Quayside Steps on the shelf"}
      </button>
      <Problem text={problem} />
    </>
  );
}
