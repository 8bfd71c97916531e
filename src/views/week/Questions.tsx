import { useEffect, useState } from "react";
import { call } from "../../client/api";
import type { OpenQuestion } from "../../services/practice/wire";
import { QuestionAnswer } from "../../ui/QuestionAnswer";

/** What players asked about their lines, to be answered in place; nothing where nobody asked. */
export function Questions() {
  const [waiting, setWaiting] = useState<OpenQuestion[]>([]);
  useEffect(() => {
    call<OpenQuestion[]>("GET", "/api/questions").then(setWaiting, () => undefined);
  }, []);
  if (waiting.length === 0) return null;
  return (
    <section className="panel mt-4 p-4" aria-label="Questions of players">
      <h2 className="text-xl">
        {waiting.length === 1 ? "One question waits" : `${waiting.length} questions wait`}
      </h2>
      <ul className="divide-y divide-base-300">
        {waiting.map((question) => (
          <QuestionAnswer
            key={question.id}
            question={question}
            answered={() => setWaiting((before) => before.filter(({ id }) => id !== question.id))}
          />
        ))}
      </ul>
    </section>
  );
}
