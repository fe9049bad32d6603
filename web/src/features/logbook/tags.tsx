import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, faultsOf } from "../../api/client";
import { useNotice } from "../../components/notice";
import { logbookKey } from "./queries";
import type { Logged, LogbookOut } from "../../domain/behaviour-logbook";
import { t } from "../../words";

/** A session's tags: press one to take it off, write one to put it on. */
export function Tags({ session, behaviourId }: { session: Logged; behaviourId: string }) {
  const client = useQueryClient();
  const tell = useNotice();
  const [writing, setWriting] = useState(false);

  const set = async (tags: string[]) => {
    const show = (shown: string[]) =>
      client.setQueryData<LogbookOut>(
        logbookKey(behaviourId),
        (old) =>
          old && {
            ...old,
            sessions: old.sessions.map((s) =>
              s.session_id === session.session_id ? { ...s, tags: shown } : s,
            ),
          },
      );
    show(tags);
    const answer = await api
      .PUT("/api/logbook/tags/{session_id}", {
        params: { path: { session_id: session.session_id } },
        body: { tags },
      })
      .catch(() => null);
    if (answer?.response.ok) return;
    show(session.tags);
    tell(
      answer
        ? faultsOf(answer.error, answer.response.status).join(" ")
        : t("logbook:tags.the_tag_could_not_be"),
    );
  };

  return (
    <span className="mt-0.5 flex flex-wrap items-center gap-1.5 text-[13px]">
      {session.tags.map((tag) => (
        <button
          key={tag}
          type="button"
          aria-label={t("logbook:tags.take_off_the_tag_tag", { tag })}
          onClick={() => void set(session.tags.filter((t) => t !== tag))}
          className="rounded-full border border-line px-2 leading-5 hover:line-through"
        >
          {tag}
        </button>
      ))}
      {writing ? (
        <input
          aria-label={t("logbook:tags.new_tag")}
          // The press that opened it asks for the pen.
          ref={(field) => field?.focus()}
          maxLength={40}
          onBlur={(event) => {
            const tag = event.target.value.trim();
            setWriting(false);
            if (tag && !session.tags.includes(tag)) void set([...session.tags, tag]);
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter") event.currentTarget.blur();
            if (event.key === "Escape") {
              event.currentTarget.value = "";
              event.currentTarget.blur();
            }
          }}
          className="h-6 w-28 rounded-full border border-line bg-paper px-2"
        />
      ) : (
        <button
          type="button"
          aria-label={t("logbook:tags.tag_the_session_of_date", {
            date: session.date ?? t("common:no_day"),
          })}
          onClick={() => setWriting(true)}
          className="no-print text-soft underline decoration-line underline-offset-3"
        >
          {t("logbook:tags.tag")}
        </button>
      )}
    </span>
  );
}
