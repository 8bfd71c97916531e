import { useMemo, useState } from "react";
import { ApiError, call } from "../../client/api";
import {
  makePage,
  PageError,
  type PageSettings,
  pageSeconds,
  planCourse,
  USUAL_COURSE,
  USUAL_PAGE,
} from "../../core/rhythm";
import { clockText } from "../../core/warmup";
import type { CourseSummary, DrillSummary } from "../../services/counting/schema";
import { Count } from "../../ui/Pick";
import { useReady } from "../../ui/use-ready";
import { PageSettingsForm } from "./PageSettingsForm";

interface Props {
  drills: DrillSummary[];
  courses: CourseSummary[];
  system: string;
}

/** Counting pages and courses, and the making of new ones. */
export function CountingShelf({ drills, courses, system }: Props) {
  const ready = useReady();
  const [settings, setSettings] = useState<PageSettings>(USUAL_PAGE);
  const [title, setTitle] = useState("");
  const [course, setCourse] = useState({ title: "", ...USUAL_COURSE });
  const [problem, setProblem] = useState("");
  const tried = useMemo(() => tryPage(settings), [settings]);
  const send = async (path: string, body: unknown, where: string) => {
    setProblem("");
    try {
      const { id } = await call<{ id: string }>("POST", path, body);
      location.assign(`${where}/${id}`);
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "It could not be made. Try again in a moment.");
    }
  };
  const courseProblem = useMemo(() => problemOf(() => planCourse(course)), [course]);
  return (
    <div className="grid gap-5 lg:grid-cols-[1fr_440px]">
      <div className="flex min-w-0 flex-col gap-5">
        <section className="flex flex-col gap-2">
          <h2 className="text-xl">Counting pages</h2>
          {drills.length === 0 ? (
            <p className="panel p-4">
              None yet. Try this one: 4/4, beat divided into halves, 7 attacks, every bar there is. It gives
              the seven bars in which one quarter wanders through the eighths.
            </p>
          ) : (
            <table className="panel table">
              <thead>
                <tr>
                  <th scope="col">Page</th>
                  <th scope="col">Metre</th>
                  <th scope="col">Bars</th>
                  <th scope="col">Grade</th>
                  <th scope="col">Tempo</th>
                </tr>
              </thead>
              <tbody>
                {drills.map((drill) => (
                  <tr key={drill.id}>
                    <td>
                      <a className="link font-bold" href={`/shelf/counting/${drill.id}`}>
                        {drill.title}
                      </a>
                    </td>
                    <td>{drill.metres}</td>
                    <td>{drill.bars}</td>
                    <td>{drill.grade}</td>
                    <td>{drill.bpm}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </section>
        <section className="flex flex-col gap-2">
          <h2 className="text-xl">Courses</h2>
          {courses.length === 0 && (
            <p className="text-quiet">
              A course is two weeks of a few minutes a day, a little harder each day.
            </p>
          )}
          <ul className="flex flex-col gap-1">
            {courses.map((each) => (
              <li key={each.id} className="panel flex items-center justify-between gap-3 px-3 py-2">
                <a className="link font-bold" href={`/shelf/counting/course/${each.id}`}>
                  {each.title}
                </a>
                <span className="text-sm text-quiet">
                  {each.days} days · {each.minutesPerDay} minutes a day
                </span>
              </li>
            ))}
          </ul>
          <form
            className="panel flex flex-wrap items-end gap-3 p-3"
            onSubmit={(event) => {
              event.preventDefault();
              const { title: name, ...rest } = course;
              void send(
                "/api/courses",
                { title: name || "Counting course", settings: rest },
                "/shelf/counting/course",
              );
            }}
          >
            <label className="flex min-w-40 flex-1 flex-col text-sm font-bold">
              New course
              <input
                className="input w-full border-neutral font-normal"
                value={course.title}
                placeholder="Counting course"
                maxLength={160}
                onChange={(event) => setCourse({ ...course, title: event.target.value })}
              />
            </label>
            <Count
              label="Days"
              value={course.days}
              least={2}
              most={15}
              change={(days) => setCourse({ ...course, days })}
            />
            <Count
              label="Minutes"
              value={course.minutesPerDay}
              least={5}
              most={15}
              change={(minutesPerDay) => setCourse({ ...course, minutesPerDay })}
            />
            <Count
              label="Tempo"
              value={course.bpm}
              least={40}
              most={160}
              change={(bpm) => setCourse({ ...course, bpm })}
            />
            <button
              type="button"
              className="btn border-base-300 bg-base-100"
              onClick={() => setCourse({ ...course, seed: course.seed + 1 })}
            >
              Other bars
            </button>
            <button
              type="submit"
              className="btn border-base-300 bg-base-100"
              disabled={!ready || courseProblem !== null}
            >
              Plan it
            </button>
            {courseProblem && <p className="w-full text-sm text-felt">{courseProblem}</p>}
          </form>
        </section>
      </div>
      <form
        className="panel flex h-fit flex-col gap-3 p-4"
        onSubmit={(event) => {
          event.preventDefault();
          void send(
            "/api/drills",
            { title: title || "Counting page", settings, bpm: 80, loops: 2, system },
            "/shelf/counting",
          );
        }}
      >
        <h2 className="text-xl">Make a page</h2>
        <label className="flex flex-col text-sm font-bold">
          Name
          <input
            className="input w-full border-neutral font-normal"
            value={title}
            placeholder="Counting page"
            maxLength={160}
            onChange={(event) => setTitle(event.target.value)}
          />
        </label>
        <PageSettingsForm settings={settings} change={setSettings} />
        {tried.problem ? (
          <p role="alert" className="flex flex-wrap items-center gap-2 text-sm text-felt">
            {tried.problem.message}
            <button
              type="button"
              className="btn btn-sm border-base-300 bg-base-100 text-base-content"
              onClick={() => setSettings(tried.problem!.offer)}
            >
              Use the nearest
            </button>
          </p>
        ) : (
          <p className="text-sm text-quiet" data-testid="available">
            {tried.bars} {tried.bars === 1 ? "bar" : "bars"}
            {tried.available !== null ? ` of ${tried.available} there are` : " of very many"}, easiest first,
            none twice · {clockText(tried.seconds)} at 80, each bar twice
          </p>
        )}
        {problem && (
          <p role="alert" className="text-felt">
            {problem}
          </p>
        )}
        <button type="submit" className="btn btn-primary" disabled={!ready || tried.problem !== null}>
          Make the page
        </button>
      </form>
    </div>
  );
}

type Tried =
  | { problem: PageError; bars: 0; available: null; seconds: 0 }
  | { problem: null; bars: number; available: number | null; seconds: number };

function tryPage(settings: PageSettings): Tried {
  try {
    const { forms, available } = makePage(settings);
    return { problem: null, bars: forms.length, available, seconds: pageSeconds(forms, 80, 2) };
  } catch (error) {
    if (error instanceof PageError) return { problem: error, bars: 0, available: null, seconds: 0 };
    throw error;
  }
}

function problemOf(compute: () => unknown): string | null {
  try {
    compute();
    return null;
  } catch (error) {
    if (error instanceof RangeError) return error.message;
    throw error;
  }
}
