import { LogOut } from "lucide-react";
import { call } from "../client/api";
import { forgetPlayer } from "../client/offline";

/** @param before  what is to be handed over while somebody is still signed in */
export function SignOut({ before }: { before?: () => Promise<unknown> }) {
  const leave = async (everywhere: boolean) => {
    await before?.();
    await call("POST", everywhere ? "/api/sign-out-everywhere" : "/api/sign-out");
    await forgetPlayer();
    location.assign("/sign-in");
  };
  return (
    <details className="relative text-sm">
      <summary className="flex cursor-pointer list-none flex-col items-center gap-1 whitespace-nowrap px-2 py-2">
        <LogOut size={20} aria-hidden="true" />
        Sign out
      </summary>
      <div className="panel absolute bottom-full left-2 z-20 mb-1 w-52 p-2 text-base-content shadow">
        <button
          type="button"
          className="btn btn-ghost btn-sm w-full justify-start"
          onClick={() => leave(false)}
        >
          On this device
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-sm w-full justify-start"
          onClick={() => leave(true)}
        >
          On every device
        </button>
      </div>
    </details>
  );
}
