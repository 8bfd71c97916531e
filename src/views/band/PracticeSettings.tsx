import type { SettingsView } from "../../services/settings/schema";
import { Choice, input, NumberSetting, Section, Setting, Tick } from "./settings-parts";

const WHEN_DONE = {
  "clean-days": "clean on several days",
  "no-mistakes": "once without a mistake",
  tomorrow: "gone through once a day",
};
const TUNE_WHEN = {
  before: "before playing",
  "after-long-tones": "after the first long tones",
  never: "not asked",
};
const FIRST = { heard: "hear it first", read: "read it first, unheard" };
const ORDER = { halves: "first half, second half, whole", backwards: "from the last bar backwards" };
const SLURS = { tongued: "tongued first, then slurred", slurred: "slurred first, then tongued" };

interface Props {
  now: SettingsView;
  set: (change: Partial<SettingsView>) => void;
  fields: Record<string, string>;
}

/** What teachers disagree about in how a line is practised: the usual way stands first everywhere. */
export function PracticeSettings({ now, set, fields }: Props) {
  return (
    <Section title="How lines are practised">
      <Setting label="A new line" says="What a player does with it first.">
        <Choice value={now.firstMeeting} options={FIRST} choose={(firstMeeting) => set({ firstMeeting })} />
      </Setting>
      <Setting label="It is put together" says="In which parts it is played slowly.">
        <Choice value={now.putTogether} options={ORDER} choose={(putTogether) => set({ putTogether })} />
      </Setting>
      <Setting label="Lines with slurs" says="What is played first.">
        <Choice value={now.slursFirst} options={SLURS} choose={(slursFirst) => set({ slursFirst })} />
      </Setting>
      <Setting
        label="A line is learned"
        says="What the stand calls learned, and what is still missing until then."
      >
        <span className="flex flex-wrap items-center gap-2">
          <Choice value={now.whenDone} options={WHEN_DONE} choose={(whenDone) => set({ whenDone })} />
          {now.whenDone === "clean-days" && (
            <>
              <input
                type="number"
                className={`${input} w-16`}
                aria-label="Clean times on a day"
                min={1}
                max={10}
                value={now.cleanPasses}
                onChange={(event) => set({ cleanPasses: Number(event.target.value) })}
              />
              times on
              <input
                type="number"
                className={`${input} w-16`}
                aria-label="Days of clean times"
                min={1}
                max={10}
                value={now.cleanDays}
                onChange={(event) => set({ cleanDays: Number(event.target.value) })}
              />
              days
            </>
          )}
        </span>
      </Setting>
      <Tick
        on={now.ownPace}
        set={(ownPace) => set({ ownPace })}
        label="The next line by own choice"
        says="Who has done what is required may open the next line of the book. It is kept apart and counts for nothing."
      />
      <NumberSetting
        label="Poor tries until help is offered"
        says="Smaller, slower, fingers only, rest, another line, tomorrow: offered kindly and once."
        problem={fields.poorTries}
        min={2}
        max={10}
        value={now.poorTries}
        set={(poorTries) => set({ poorTries })}
      />
      <Setting
        label="Playing a day"
        says="After so many minutes the stand asks lips to rest; fingers, counting and cards stay open."
        problem={fields.playingMinutes}
      >
        <span className="flex items-center gap-2">
          <Choice
            value={now.playingMinutes === null ? "open" : "so many"}
            options={{ open: "as long as it is good", "so many": "minutes at most:" }}
            choose={(how) => set({ playingMinutes: how === "open" ? null : 30 })}
          />
          {now.playingMinutes !== null && (
            <input
              type="number"
              className={`${input} w-20`}
              aria-label="Minutes of playing a day"
              min={5}
              max={120}
              value={now.playingMinutes}
              onChange={(event) => set({ playingMinutes: Number(event.target.value) })}
            />
          )}
        </span>
      </Setting>
      <Setting label="Tuning" says="When the stand proposes the tuner.">
        <Choice value={now.tuneWhen} options={TUNE_WHEN} choose={(tuneWhen) => set({ tuneWhen })} />
      </Setting>
      <Setting label="The log counts" says="What a player sees of the week.">
        <Choice
          value={now.logBy}
          options={{ times: "times a week", minutes: "minutes" }}
          choose={(logBy) => set({ logBy })}
        />
      </Setting>
      <Tick
        on={now.logSheet}
        set={(logSheet) => set({ logSheet })}
        label="A page of the week to sign"
        says="Players print it from their log for the family to sign."
      />
      <Setting
        label="Your words for the lines"
        says="Stands on the note cards, in the clef of the instrument."
        problem={fields.lineHint}
      >
        <input
          className={`${input} w-80`}
          value={now.lineHint}
          maxLength={120}
          onChange={(event) => set({ lineHint: event.target.value })}
        />
      </Setting>
      <Setting label="Your words for the spaces" says="The same for the spaces." problem={fields.spaceHint}>
        <input
          className={`${input} w-80`}
          value={now.spaceHint}
          maxLength={120}
          onChange={(event) => set({ spaceHint: event.target.value })}
        />
      </Setting>
    </Section>
  );
}
