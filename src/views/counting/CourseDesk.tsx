import { useState } from "react";
import { ApiError, call } from "../../client/api";
import { type Form, formId, scoreOfForms } from "../../core/rhythm";
import { clockText } from "../../core/warmup";
import type { CourseDetail } from "../../services/counting/schema";
import { RhythmStaff } from "../../ui/RhythmStaff";
import { useReady } from "../../ui/use-ready";

/** Two weeks of counting, day by day: what is new, what comes back, and what was missed. */
export function CourseDesk({ course: opened }: { course: CourseDetail }) {
  const ready = useReady();
  const [course, setCourse] = useState(opened);
  const [problem, setProblem] = useState("");
  const doing = async (act: () => Promise<void>) => {
    setProblem("");
    try {
      await act();
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "That did not work. Try again in a moment.");
    }
  };
  const open = (day: number) =>
    doing(async () => {
      const { drillId } = await call<{ drillId: string }>("POST", `/api/courses/${course.id}/days`, { day });
      location.assign(`/shelf/counting/${drillId}`);
    });
  const miss = (day: number, form: Form, missed: boolean) =>
    doing(async () =>
      setCourse(
        await call<CourseDetail>("POST", `/api/courses/${course.id}/missed`, {
          day,
          formId: formId(form),
          missed,
        }),
      ),
    );
  const isMissed = (day: number, form: Form) =>
    course.missed.some((each) => each.day === day && each.formId === formId(form));
  return (
    <div className="flex flex-col gap-3">
      <p className="text-quiet">
        {course.minutesPerDay} minutes a day at {course.settings.bpm} bpm, seed {course.settings.seed}. Mark
        what the class missed: it comes back after one, three and six days.
      </p>
      {problem && (
        <p role="alert" className="text-felt">
          {problem}
        </p>
      )}
      {course.plan.map((day) => (
        <section key={day.day} className="panel p-3">
          <div className="flex flex-wrap items-center justify-between gap-3">
            <h2 className="text-xl">
              Day {day.day}: {day.focus}
            </h2>
            <p className="text-sm text-quiet">
              {clockText(day.seconds)} · grade {day.grade}
              {day.back.length > 0
                ? ` · ${day.back.length === 1 ? "one bar comes" : `${day.back.length} bars come`} back`
                : ""}
            </p>
            <button
              type="button"
              className="btn btn-sm border-base-300 bg-base-100"
              disabled={!ready}
              onClick={() => open(day.day)}
            >
              {course.pages.some((page) => page.day === day.day) ? "Open the page" : "Make the page"}
            </button>
          </div>
          <div className="mt-2 flex flex-wrap gap-3">
            {[...day.back, ...day.fresh].map((form, i) => (
              <div
                key={`${formId(form)} ${i < day.back.length}`}
                className="flex flex-col rounded border border-base-300 p-1"
              >
                <RhythmStaff
                  events={scoreOfForms([form], { title: "", bpm: 80, loops: 1 }).parts[0].measures[0]!.events}
                  metre={form.metre}
                  withMetre
                  scale={0.7}
                  label={`Bar ${i + 1} of day ${day.day}`}
                />
                <label className="flex items-center gap-1 px-1 text-sm">
                  <input
                    type="checkbox"
                    className="checkbox checkbox-xs"
                    checked={isMissed(day.day, form)}
                    disabled={!ready}
                    onChange={(event) => miss(day.day, form, event.target.checked)}
                  />
                  missed{i < day.back.length ? " · back again" : ""}
                </label>
              </div>
            ))}
          </div>
        </section>
      ))}
    </div>
  );
}
