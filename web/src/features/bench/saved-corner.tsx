import { memo } from "react";

import { counted } from "../../domain/times";
import type { LogState } from "../../domain/edit-log";
import { t } from "../../words";

/** Whether everything is saved, truthfully. */
export const SavedCorner = memo(function SavedCorner({
  state,
  onRetry,
}: {
  state: LogState;
  onRetry: () => void;
}) {
  const marks = counted(state.folded.events.size, "mark");
  const waiting = counted(state.waiting, "change");
  const said = {
    loading: ["var(--soft)", t("bench:saved_corner.loading_marks")],
    saved: ["var(--reward)", marks],
    saving: ["var(--soft)", t("bench:saved_corner.saving_waiting", { waiting })],
    waiting: [
      "var(--marker)",
      state.waiting > 0
        ? t("bench:saved_corner.no_connection_waiting_kept_in", { waiting })
        : t("bench:saved_corner.no_connection_what_you_mark"),
    ],
    full: ["var(--fault)", t("bench:saved_corner.the_servers_disk_is_full", { waiting })],
    failed: [
      "var(--fault)",
      t("bench:saved_corner.fault_waiting_kept_in_this", {
        fault: state.fault ?? t("bench:saved_corner.not_saved"),
        waiting,
      }),
    ],
    gone: ["var(--fault)", t("bench:saved_corner.this_session_was_removed_elsewhere", { waiting })],
    "logged-out": [
      "var(--marker)",
      t("bench:saved_corner.logged_out_waiting_kept_in", { waiting }),
    ],
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
        {state.saving === "saved" && (
          <span className="max-md:sr-only">{t("bench:saved_corner.all_saved")}</span>
        )}
      </span>
      {(state.saving === "failed" || state.saving === "full") && (
        <button type="button" className="underline" onClick={onRetry}>
          {t("bench:saved_corner.try_again")}
        </button>
      )}
      {state.saving === "logged-out" && (
        <a
          className="underline"
          href={`/login?next=${encodeURIComponent(window.location.pathname)}`}
        >
          {t("bench:saved_corner.log_in")}
        </a>
      )}
    </span>
  );
});
