import { DropdownMenu } from "radix-ui";
import { useRef } from "react";
import { Link } from "react-router";

import { csrfToken, faultsOf } from "../../api/client";
import { useNotice } from "../../components/notice";
import { milliseconds, round6 } from "../../domain/times";
import type { EditLog } from "../../domain/edit-log";
import type { EditBody } from "../../domain/marks";
import type { Clicks } from "./use-clicks";
import type { Marking } from "./use-marking";
import { Trans, t } from "../../words";

const ITEM = "block cursor-pointer rounded px-3 py-1.5 outline-none data-[highlighted]:bg-hair";

interface BenchMenuProps {
  sessionId: string;
  /** Whether it is a second coding, which is not looked at a second time itself. */
  isSecond: boolean;
  marking: Marking;
  log: EditLog;
  clicks: Clicks;
  showKeys: () => void;
  compare: () => void;
  about: () => void;
}

/** What is needed now and then: the session's bounds, open formats, the keys. */
export function BenchMenu(props: BenchMenuProps) {
  const { sessionId, isSecond, marking, log, clicks, showKeys, compare, about } = props;
  const file = useRef<HTMLInputElement>(null);
  const tell = useNotice();

  const bound = (key: "start_s" | "end_s") => {
    log.apply([
      {
        op: "facts",
        set: { [key]: (marking.clip.startUs + marking.clip.times.us(marking.frame)) / 1e6 },
      },
    ]);
    tell(
      key === "start_s"
        ? t("bench:bench_menu.training_time_counts_from_here")
        : t("bench:bench_menu.training_time_counts_up_to"),
      { label: t("common:undo"), run: () => log.undo() },
    );
  };

  /** The click that is seen on this frame was heard at: sound minus picture. */
  const setOffset = () => {
    const heard = clicks.nearest(marking.here);
    if (!heard) {
      tell(t("bench:bench_menu.no_click_was_heard_within"));
      return;
    }
    const offset = round6(heard.soundS - marking.here);
    log.apply([{ op: "facts", set: { av_offset_s: offset } }]);
    tell(t("bench:bench_menu.the_sound_lies_offset_against", { offset: milliseconds(offset) }), {
      label: t("common:undo"),
      run: () => log.undo(),
    });
  };
  const offset = marking.timeline.soundOffsetS;

  const read = async (chosen: File) => {
    const before = [...log.snapshot().folded.events.values()];
    const response = await fetch(`/api/sessions/${sessionId}/import`, {
      method: "POST",
      credentials: "same-origin",
      headers: { "X-CSRFToken": csrfToken(), "Content-Type": "application/octet-stream" },
      body: chosen,
    });
    const answer = (await response.json().catch(() => null)) as { marks: number } | null;
    if (!response.ok || !answer) {
      const faults = faultsOf(answer, response.status);
      const more =
        faults.length > 3
          ? t("bench:bench_menu.and_faultscount_more", { faultsCount: faults.length - 3 })
          : "";
      tell(
        t("bench:bench_menu.name_was_not_read_nothing", {
          name: chosen.name,
          faults: faults.slice(0, 3).join("; "),
          more,
        }),
      );
      return;
    }
    window.dispatchEvent(new Event("focus"));
    tell(
      t("bench:bench_menu.marks_marks_read_from_name", {
        marks: answer.marks,
        name: chosen.name,
        beforeCount: before.length,
      }),
      {
        label: t("common:undo"),
        run: () => {
          const now = [...log.snapshot().folded.events.keys()];
          log.apply([
            ...now.map((id): EditBody => ({ op: "drop", id })),
            ...before.map((event): EditBody => ({ op: "put", event })),
          ]);
        },
      },
    );
  };

  return (
    <>
      <input
        ref={file}
        type="file"
        hidden
        accept=".json,.csv,.vtt"
        aria-label={t("bench:bench_menu.file_with_marks")}
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = "";
          if (chosen) void read(chosen);
        }}
      />
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger className="whitespace-nowrap text-soft hover:text-ink">
          <Trans i18nKey="bench:bench_menu.session" components={{ part: <span aria-hidden /> }} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          className="z-40 rounded border border-ink bg-raised p-1"
        >
          <DropdownMenu.Item className={ITEM} onSelect={about}>
            {t("bench:bench_menu.day_place_and_people")}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => bound("start_s")}>
            {t("bench:bench_menu.training_begins_at_this_frame")}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => bound("end_s")}>
            {t("bench:bench_menu.training_ends_at_this_frame")}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={setOffset}>
            {t("bench:bench_menu.the_nearest_click_is_seen")}
            {offset !== 0 && (
              <span className="num text-soft">
                {" "}
                {t("bench:bench_menu.now_offset", { offset: milliseconds(offset) })}
              </span>
            )}
          </DropdownMenu.Item>
          {offset !== 0 && (
            <DropdownMenu.Item
              className={ITEM}
              onSelect={() => log.apply([{ op: "facts", set: { av_offset_s: 0 } }])}
            >
              {t("bench:bench_menu.sound_and_picture_agree")}
            </DropdownMenu.Item>
          )}
          <DropdownMenu.Item className={ITEM} onSelect={compare}>
            {t("bench:bench_menu.two_reps_side_by_side")}
          </DropdownMenu.Item>
          {!isSecond && (
            <DropdownMenu.Item asChild className={ITEM}>
              <Link to={`/second-looks?ask=${sessionId}`}>{t("bench:second_look.ask")}</Link>
            </DropdownMenu.Item>
          )}
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          {(["json", "csv", "vtt"] as const).map((form) => (
            <DropdownMenu.Item key={form} asChild className={ITEM}>
              <a href={`/api/sessions/${sessionId}/export.${form}`} download>
                {t("bench:bench_menu.save_marks_as_which", {
                  which:
                    form === "vtt" ? t("bench:bench_menu.webvtt_captions") : form.toUpperCase(),
                })}
              </a>
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Item className={ITEM} onSelect={() => file.current?.click()}>
            {t("bench:bench_menu.read_marks_from_a_file")}
          </DropdownMenu.Item>
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <DropdownMenu.Item className={ITEM} onSelect={showKeys}>
            {t("bench:bench_menu.all_keys")}
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Root>
    </>
  );
}
