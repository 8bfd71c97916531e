import type { ReactNode } from "react";

/** What can be done now, at the thumb; what is pressed most lies at the left one where the player wishes it. */
export function ThumbBar({ leftHanded, children }: { leftHanded: boolean; children: ReactNode }) {
  return (
    <div className="fixed inset-x-0 bottom-0 z-10 border-t border-base-300 bg-base-200">
      <div
        className={`mx-auto flex max-w-5xl items-stretch gap-2 px-4 py-3 ${leftHanded ? "flex-row-reverse" : ""}`}
      >
        {children}
      </div>
    </div>
  );
}
