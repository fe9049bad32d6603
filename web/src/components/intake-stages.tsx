import type { FilmOut, StageOut } from "../api/client";
import { percent } from "../domain/times";
import { t } from "../words";

const WORDS: Record<StageOut["name"], [doing: string, done: string]> = {
  film: [t("components:intake_stages.filming"), t("components:intake_stages.filmed")],
  check: [t("components:intake_stages.checking"), t("components:intake_stages.checked")],
  index: [
    t("components:intake_stages.reading_frame_times"),
    t("components:intake_stages.frame_times_read"),
  ],
  review: [
    t("components:intake_stages.making_the_review_copy"),
    t("components:intake_stages.review_copy_made"),
  ],
  sound: [t("components:intake_stages.listening"), t("components:intake_stages.sound_read")],
};

/** What happens to a film on its way in, one station after another, with real progress. */
export function IntakeStages({ film }: { film: FilmOut }) {
  return (
    <ol
      className="flex flex-wrap gap-x-5 gap-y-1"
      aria-label={t("components:intake_stages.on_its_way_in")}
    >
      {film.stages.map((stage) => (
        <li key={stage.name} className="flex items-center gap-2 text-[13px]">
          <Station stage={stage} />
          <span className={stage.state === "waiting" ? "text-soft" : ""}>
            {stage.state === "dropped"
              ? t("components:intake_stages.review_copy_dropped_frames_come")
              : WORDS[stage.name][stage.state === "done" ? 1 : 0]}
            {stage.state === "working" && <span className="num"> {percent(stage.share)}</span>}
            {stage.state === "failed" && `: ${stage.fault_text}`}
            {stage.name === "review" && stage.state !== "done" && about(film)}
          </span>
        </li>
      ))}
    </ol>
  );
}

/** What a copy that is not there yet will take. */
function about({ copy_bytes, copy_s }: FilmOut): string {
  if (copy_bytes === null || copy_s === null) return "";
  const megabytes = Math.max(1, Math.round(copy_bytes / 1e6));
  const time =
    copy_s < 50
      ? t("components:intake_stages.less_than_a_minute")
      : t("components:intake_stages.about_minutes", { minutes: Math.ceil(copy_s / 60) });
  return t("components:intake_stages.time_about_megabytes_mb", { time, megabytes });
}

/** A small round: empty, filling, full, or crossed. */
function Station({ stage }: { stage: StageOut }) {
  const turn = stage.state === "done" ? 1 : stage.state === "working" ? stage.share : 0;
  const round = 2 * Math.PI * 5;
  return (
    <svg width={16} height={16} viewBox="0 0 16 16" aria-hidden>
      <circle cx={8} cy={8} r={5} fill="none" stroke="var(--line)" strokeWidth={2} />
      {stage.state === "failed" ? (
        <path d="M5 5L11 11M11 5L5 11" stroke="var(--fault)" strokeWidth={2} />
      ) : (
        <circle
          cx={8}
          cy={8}
          r={5}
          fill={stage.state === "done" ? "var(--reward)" : "none"}
          stroke="var(--reward)"
          strokeWidth={2.4}
          strokeDasharray={`${turn * round} ${round}`}
          transform="rotate(-90 8 8)"
        />
      )}
    </svg>
  );
}
