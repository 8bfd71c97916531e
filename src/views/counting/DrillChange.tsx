import { useState } from "react";
import { makePage, PageError, type PageSettings } from "../../core/rhythm";
import type { DrillDetail } from "../../services/counting/schema";
import { Count } from "../../ui/Pick";
import { Problem } from "../../ui/Problem";
import { TempoField } from "../../ui/TempoField";
import { useRevision } from "../../ui/use-revision";
import { PageSettingsForm } from "./PageSettingsForm";

interface Props {
  drill: DrillDetail;
  system: string | null;
  changed: () => Promise<void>;
}

/** Changes a counting page: its name, tempo, and what its bars are like; a save makes the next version. */
export function DrillChange({ drill, system, changed }: Props) {
  const [draft, setDraft] = useState({
    title: drill.title,
    settings: drill.settings,
    bpm: drill.bpm,
    loops: drill.loops,
  });
  const [offer, setOffer] = useState<PageError | null>(null);
  const {
    busy,
    problem,
    save: keep,
  } = useRevision(
    `/api/drills/${drill.id}`,
    drill.version,
    "The page could not be saved. Try again in a moment.",
  );
  const save = async (settings: PageSettings = draft.settings) => {
    setOffer(null);
    try {
      makePage(settings);
    } catch (error) {
      if (error instanceof PageError) return setOffer(error);
      throw error;
    }
    if ((await keep({ ...draft, settings, system })) === null) return;
    setDraft({ ...draft, settings });
    await changed();
  };
  return (
    <div className="grid gap-4 lg:grid-cols-2">
      <form
        className="panel flex flex-col gap-3 p-4"
        onSubmit={(event) => {
          event.preventDefault();
          void save();
        }}
      >
        <label className="flex flex-col text-sm font-bold">
          Name
          <input
            className="input w-full border-neutral font-normal"
            value={draft.title}
            maxLength={160}
            onChange={(event) => setDraft({ ...draft, title: event.target.value })}
          />
        </label>
        <div className="flex gap-3">
          <TempoField bpm={draft.bpm} least={30} most={200} change={(bpm) => setDraft({ ...draft, bpm })} />
          <Count
            label="Times a bar"
            value={draft.loops}
            least={1}
            most={8}
            change={(loops) => setDraft({ ...draft, loops })}
          />
        </div>
        {!drill.course && (
          <PageSettingsForm
            settings={draft.settings}
            change={(settings) => setDraft({ ...draft, settings })}
          />
        )}
        {offer && (
          <p role="alert" className="flex flex-wrap items-center gap-2 text-felt">
            {offer.message}
            <button
              type="button"
              className="btn btn-sm border-base-300 bg-base-100 text-base-content"
              onClick={() => {
                setDraft({ ...draft, settings: offer.offer });
                setOffer(null);
              }}
            >
              Use the nearest
            </button>
          </p>
        )}
        <Problem text={problem} />
        <div className="flex gap-2">
          <button type="submit" className="btn btn-primary" disabled={busy}>
            Save
          </button>
          {!drill.course && draft.settings.choice === "random" && (
            <button
              type="button"
              className="btn border-base-300 bg-base-100"
              onClick={() => void save({ ...draft.settings, seed: draft.settings.seed + 1 })}
            >
              Other bars
            </button>
          )}
        </div>
      </form>
      <p className="text-sm text-quiet">
        Own syllables are written in the{" "}
        <a className="link" href="/band/settings">
          settings of the band
        </a>
        .
      </p>
    </div>
  );
}
