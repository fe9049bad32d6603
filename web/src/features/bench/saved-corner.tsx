import { counted } from "../../domain/times";
import type { LogState } from "../../domain/edit-log";

/** Whether everything is saved, truthfully. */
export function SavedCorner({ state, onRetry }: { state: LogState; onRetry: () => void }) {
  const marks = counted(state.folded.events.size, "mark");
  const waiting = counted(state.waiting, "change");
  const said = {
    loading: ["var(--soft)", "loading marks"],
    saved: ["var(--reward)", marks],
    saving: ["var(--soft)", `saving ${waiting}`],
    waiting: [
      "var(--marker)",
      state.waiting > 0
        ? `no connection: ${waiting} kept in this browser`
        : "no connection: what you mark is kept in this browser",
    ],
    full: ["var(--fault)", `the server's disk is full: ${waiting} kept in this browser`],
    failed: ["var(--fault)", `${state.fault ?? "not saved"} ${waiting} kept in this browser`],
    gone: ["var(--fault)", `this session was removed elsewhere; ${waiting} kept in this browser`],
    "logged-out": ["var(--marker)", `logged out: ${waiting} kept in this browser`],
  }[state.saving];
  return (
    <span
      role="status"
      data-saving={state.saving}
      className={`flex items-center gap-1.5 text-[13px] text-soft ${
        state.saving === "saved" || state.saving === "saving" ? "whitespace-nowrap" : ""
      }`}
    >
      <span
        aria-hidden
        className="size-[7px] shrink-0 rounded-full"
        style={{ background: said[0] }}
      />
      <span>
        {said[1]}
        {/* On a phone the green dot says it. */}
        {state.saving === "saved" && <span className="max-md:sr-only">, all saved</span>}
      </span>
      {(state.saving === "failed" || state.saving === "full") && (
        <button type="button" className="underline" onClick={onRetry}>
          try again
        </button>
      )}
      {state.saving === "logged-out" && (
        <a
          className="underline"
          href={`/login?next=${encodeURIComponent(window.location.pathname)}`}
        >
          log in
        </a>
      )}
    </span>
  );
}
