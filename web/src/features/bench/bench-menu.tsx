import { DropdownMenu } from "radix-ui";
import { useRef } from "react";

import { csrfToken, faultsOf } from "../../api/client";
import { useNotice } from "../../components/notice";
import { milliseconds } from "../../domain/times";
import type { EditLog } from "../../domain/edit-log";
import type { EditBody } from "../../domain/marks";
import type { Clicks } from "./use-clicks";
import type { Marking } from "./use-marking";

const ITEM = "block cursor-pointer rounded px-3 py-1.5 outline-none data-[highlighted]:bg-hair";

interface BenchMenuProps {
  sessionId: string;
  marking: Marking;
  log: EditLog;
  clicks: Clicks;
  showKeys: () => void;
  compare: () => void;
  about: () => void;
}

/** What is needed now and then: the session's bounds, open formats, the keys. */
export function BenchMenu(props: BenchMenuProps) {
  const { sessionId, marking, log, clicks, showKeys, compare, about } = props;
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
        ? "Training time counts from here, or from the first mark if that is earlier."
        : "Training time counts up to here, or to the last mark if that is later.",
      { label: "Undo", run: () => log.undo() },
    );
  };

  /** The click that is seen on this frame was heard at: sound minus picture. */
  const setOffset = () => {
    const heard = clicks.nearest(marking.here);
    if (!heard) {
      tell("No click was heard within a second of this frame.");
      return;
    }
    const offset = Math.round((heard.soundS - marking.here) * 1e6) / 1e6;
    log.apply([{ op: "facts", set: { av_offset_s: offset } }]);
    tell(
      `The sound lies ${milliseconds(offset)} against the picture. That is taken off every heard mark.`,
      { label: "Undo", run: () => log.undo() },
    );
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
      const more = faults.length > 3 ? ` … and ${faults.length - 3} more` : "";
      tell(
        `${chosen.name} was not read, nothing has changed. ${faults.slice(0, 3).join("; ")}${more}`,
      );
      return;
    }
    window.dispatchEvent(new Event("focus"));
    tell(
      `${answer.marks} marks read from ${chosen.name}; they replace the ${before.length} before.`,
      {
        label: "Undo",
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
        aria-label="File with marks"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = "";
          if (chosen) void read(chosen);
        }}
      />
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger className="whitespace-nowrap text-soft hover:text-ink">
          Session <span aria-hidden>▾</span>
        </DropdownMenu.Trigger>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          className="z-40 rounded border border-ink bg-raised p-1"
        >
          <DropdownMenu.Item className={ITEM} onSelect={about}>
            Day, place and people …
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => bound("start_s")}>
            Training begins at this frame
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => bound("end_s")}>
            Training ends at this frame
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={setOffset}>
            The nearest click is seen on this frame
            {offset !== 0 && <span className="num text-soft"> (now {milliseconds(offset)})</span>}
          </DropdownMenu.Item>
          {offset !== 0 && (
            <DropdownMenu.Item
              className={ITEM}
              onSelect={() => log.apply([{ op: "facts", set: { av_offset_s: 0 } }])}
            >
              Sound and picture agree
            </DropdownMenu.Item>
          )}
          <DropdownMenu.Item className={ITEM} onSelect={compare}>
            Two reps side by side …
          </DropdownMenu.Item>
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          {(["json", "csv", "vtt"] as const).map((form) => (
            <DropdownMenu.Item key={form} asChild className={ITEM}>
              <a href={`/api/sessions/${sessionId}/export.${form}`} download>
                Save marks as {form === "vtt" ? "WebVTT captions" : form.toUpperCase()}
              </a>
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Item className={ITEM} onSelect={() => file.current?.click()}>
            Read marks from a file …
          </DropdownMenu.Item>
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <DropdownMenu.Item className={ITEM} onSelect={showKeys}>
            All keys (?)
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Root>
    </>
  );
}
