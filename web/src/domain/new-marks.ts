/** What comes with a mark that is new: what else changes, and what it says at first. */

import { freshId, KINDS, type EditBody, type MarkKind, type StoredEvent } from "./marks";
import type { Timeline } from "./timeline";
import { round6 } from "./times";
import { t } from "../words";

/** The edits a new mark needs: itself, and what it means for others. */
export function companions(
  mark: StoredEvent,
  events: StoredEvent[],
  timeline: Timeline,
): EditBody[] {
  const put = (event: StoredEvent): EditBody => ({ op: "put", event });
  if (mark.kind === "bout_end" && !events.some((e) => e.kind === "bout_start")) {
    // Work went on from the first frame until this first pause.
    const first = timeline.clips[0];
    const pts = first?.times.pts(0) ?? 0;
    return [put({ id: freshId(), kind: "bout_start", frame: 0, pts }), put(mark)];
  }
  if (mark.kind === "no_cue_window") {
    const at = round6(timeline.us(mark) / 1e6);
    const open = events.findLast((e) => e.kind === "no_cue_window" && timeline.us(e) / 1e6 <= at);
    // One whose end is still its beginning waits for it.
    if (open && open["end_s"] === round6(timeline.us(open) / 1e6)) {
      return [put({ ...open, end_s: at })];
    }
    return [put({ ...mark, end_s: at })];
  }
  return [put(mark)];
}

/** What a tapped mark says at first, because nobody types while the film plays. */
export function saidOf(kind: MarkKind, events: StoredEvent[]): Record<string, unknown> {
  const asks = KINDS.find((k) => k.kind === kind)?.asks;
  if (!asks) return {};
  const last = events.findLast((e) => e.kind === kind);
  if (asks === "level") return { level: last?.["level"] ?? "gesture" };
  if (asks === "text") return { text: t("domain:new_marks.look_here_again") };
  const label = last?.["label"] ?? t("common:not_named_yet");
  return asks === "severity" ? { label, severity: 1 } : { label };
}
