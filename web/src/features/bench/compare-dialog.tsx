import { Dialog } from "radix-ui";
import { useState, type KeyboardEvent } from "react";

import type { Rep } from "../../api/findings";
import { latency } from "../../domain/times";
import type { StoredEvent } from "../../domain/marks";
import type { Marking } from "./use-marking";
import { t } from "../../words";

/** Two reps' frames side by side at the same distance from their onsets. */
export function CompareDialog({ marking, onClose }: { marking: Marking; onClose: () => void }) {
  const { findings, state, clip } = marking;
  const reps = findings?.reps ?? [];
  const numberOf = (rep: Rep) => reps.indexOf(rep) + 1;
  const [one, setOne] = useState(marking.current?.id ?? reps[0]?.id ?? "");
  const [other, setOther] = useState(() => likest(reps, one));
  const [away, setAway] = useState(0);
  const stepS = clip.times.widthUs(1) / 1e6;
  const key = (event: KeyboardEvent) => {
    const by = event.key === "ArrowLeft" ? -1 : event.key === "ArrowRight" ? 1 : 0;
    if (by === 0 || (event.target as HTMLElement).closest(t("bench:compare_dialog.select_input")))
      return;
    event.preventDefault();
    setAway((n) => n + by * (event.shiftKey ? 10 : 1));
  };
  const onset = (id: string) => state.folded.events.get(id);
  return (
    <Dialog.Root modal={false} open onOpenChange={onClose}>
      <Dialog.Portal>
        <div aria-hidden className="fixed inset-0 z-30 bg-ink/25" />
        <Dialog.Content
          aria-describedby={undefined}
          onKeyDown={key}
          onInteractOutside={(event) => event.preventDefault()}
          className="fixed top-14 left-1/2 z-40 w-[1180px] max-w-[calc(100vw-2rem)] -translate-x-1/2 rounded border border-ink bg-raised p-5"
        >
          <Dialog.Title className="mb-3 text-[18px] font-semibold">
            {t("bench:compare_dialog.two_reps_at_the_same")}
          </Dialog.Title>
          <div className="grid grid-cols-2 gap-4">
            {[
              { id: one, set: setOne, label: t("bench:compare_dialog.one_rep") },
              { id: other, set: setOther, label: t("bench:compare_dialog.the_other_rep") },
            ].map(({ id, set, label }) => (
              <div key={label}>
                <select
                  aria-label={label}
                  value={id}
                  onChange={(event) => set(event.target.value)}
                  className="mb-2 h-8 w-full rounded border border-line bg-paper px-2"
                >
                  {reps.map((rep) => (
                    <option key={rep.id} value={rep.id}>
                      {t("bench:compare_dialog.rep_rep_which_which2", {
                        rep: numberOf(rep),
                        which:
                          rep.met === null
                            ? ""
                            : rep.met
                              ? t("bench:compare_dialog.fits")
                              : t("bench:compare_dialog.not_yet"),
                        which2:
                          rep.marker_latency_s === null
                            ? ""
                            : t("bench:compare_dialog.marker_marker_latency_s", {
                                marker_latency_s: latency(rep.marker_latency_s),
                              }),
                      })}
                    </option>
                  ))}
                </select>
                <Side marking={marking} onset={onset(id)} awayS={away * stepS} />
              </div>
            ))}
          </div>
          <div className="mt-3 flex items-center gap-3">
            <button
              type="button"
              aria-label={t("bench:compare_dialog.a_frame_earlier")}
              onClick={() => setAway((n) => n - 1)}
              className="h-8 rounded border border-line px-3 hover:border-ink"
            >
              ←
            </button>
            <input
              type="range"
              aria-label={t("bench:compare_dialog.distance_from_the_onset_frames")}
              min={-30}
              max={90}
              value={away}
              onChange={(event) => setAway(event.target.valueAsNumber)}
              className="flex-1 accent-(--behaviour)"
            />
            <button
              type="button"
              aria-label={t("bench:compare_dialog.a_frame_later")}
              onClick={() => setAway((n) => n + 1)}
              className="h-8 rounded border border-line px-3 hover:border-ink"
            >
              →
            </button>
            <span className="num w-24 text-right text-[18px]">{latency(away * stepS)}</span>
            <Dialog.Close className="h-8 rounded border border-line px-3 hover:border-ink">
              {t("common:close")}
            </Dialog.Close>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** The frame of one rep that shows the instant, and how far from the onset it really lies. */
function Side({
  marking,
  onset,
  awayS,
}: {
  marking: Marking;
  onset: StoredEvent | undefined;
  awayS: number;
}) {
  const { timeline } = marking;
  const clip = onset && timeline.clipOf(onset);
  if (!onset || !clip) return <div className="aspect-video bg-hair" />;
  const atS = timeline.bestS(onset) + awayS - clip.startUs / 1e6;
  const { times } = clip;
  const near = times.atUs(Math.round(atS * 1e6));
  // The frame whose own instant is nearest, not the one still shown then.
  const frame =
    Math.abs(times.bestS(times.clamp(near + 1)) - atS) < Math.abs(times.bestS(near) - atS)
      ? times.clamp(near + 1)
      : near;
  const really = times.bestS(frame) - (timeline.bestS(onset) - clip.startUs / 1e6);
  return (
    <figure>
      <img
        src={`/api/films/${clip.film.id}/frames/${frame}.jpg?lines=540`}
        alt={t("bench:compare_dialog.frame_frame", { frame })}
        className="aspect-video w-full rounded-[3px] bg-hair object-contain"
      />
      <figcaption className="num mt-1 text-[12.5px] text-soft">
        {t("bench:compare_dialog.frame_frame_really_from_its", { frame, really: latency(really) })}
      </figcaption>
    </figure>
  );
}

/** A rep worth holding beside this one: of the same step, and judged the other way. */
function likest(reps: Rep[], id: string): string {
  const one = reps.find((rep) => rep.id === id);
  const others = reps.filter((rep) => rep.id !== id);
  const same = others.filter((rep) => rep.approximation === one?.approximation);
  const found = same.find((rep) => rep.met !== one?.met) ?? same[0] ?? others[0];
  return found?.id ?? id;
}
