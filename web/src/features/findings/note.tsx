import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";

import { appendEdit } from "../../domain/append-edit";
import type { SessionOut } from "../../api/client";
import { useNotice } from "../../components/notice";
import { t } from "../../words";

/** A note of the trainer's beside one part of the findings; kept when the field is left. */
export function Note({
  session,
  part,
  about,
}: {
  session: SessionOut;
  part: string;
  about: string;
}) {
  const client = useQueryClient();
  const tell = useNotice();
  const kept = session.notes[part] ?? "";
  const [writing, setWriting] = useState(false);
  const [text, setText] = useState(kept);
  const field = useRef<HTMLTextAreaElement>(null);
  useEffect(() => {
    if (writing) field.current?.focus();
  }, [writing]);

  const keep = async () => {
    const next = text.trim();
    if (next === kept) return setWriting(false);
    const fault = await appendEdit(session.id, { op: "note", part, text: next });
    if (fault) {
      // The field stays open with what was written in it.
      tell(fault);
      return;
    }
    client.setQueryData<SessionOut>(
      ["session", session.id],
      (old) => old && { ...old, notes: { ...old.notes, [part]: next } },
    );
    setWriting(false);
  };

  if (!writing) {
    return (
      <button
        type="button"
        onClick={() => {
          setText(kept);
          setWriting(true);
        }}
        aria-label={
          kept
            ? t("findings:note.change_the_note_on_about", { about })
            : t("findings:note.write_a_note_on_about", { about })
        }
        className={
          kept
            ? "mt-3 block max-w-[65ch] border-l-2 border-ink pl-3 text-left whitespace-pre-wrap italic"
            : "no-print mt-3 text-[13px] text-soft underline decoration-line underline-offset-3"
        }
      >
        {kept || t("findings:note.write_a_note")}
      </button>
    );
  }
  return (
    <textarea
      ref={field}
      aria-label={t("findings:note.note_on_about", { about })}
      rows={2}
      maxLength={4000}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => void keep()}
      onKeyDown={(event) => {
        if (event.key !== "Escape") return;
        setText(kept);
        setWriting(false);
      }}
      className="mt-3 block w-full max-w-[65ch] rounded border border-line bg-paper px-2 py-1"
    />
  );
}
