import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useParams } from "react-router";

import { appendEdit } from "../../domain/append-edit";
import { api, given, type SessionOut } from "../../api/client";
import { useSession } from "../../api/queries";
import type { components } from "../../api/schema";
import { useNotice } from "../../components/notice";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import { crumbOf } from "../../domain/words";
import { Trans, t } from "../../words";

type Choice = components["schemas"]["ChoiceOut"];

type Chosen = components["schemas"]["ReportChoice"];

/** A page has room for so many. */
const MOST = 4;
const FIELD = "w-full rounded border border-line bg-paper px-2 py-1";

/** The two-page report: for whom, with which words and frames; read before it is sent. */
export function ReportPage() {
  const sessionId = useParams()["sessionId"] ?? "";
  const session = useSession(sessionId);
  const choice = useQuery({
    queryKey: ["report", sessionId],
    queryFn: async () =>
      given(
        await api.GET("/api/sessions/{session_id}/report/pictures", {
          params: { path: { session_id: sessionId } },
        }),
      ),
  });
  const crumb = session.data ? crumbOf(session.data) : "";
  const fault = session.error ?? choice.error;
  return (
    <Shell
      title={[t("report:report_page.report_title"), crumb].filter(Boolean).join(" · ")}
      crumb={crumb}
      sessionId={sessionId}
    >
      <main className="flex w-full flex-1 flex-col px-[18px] pt-5 pb-5">
        {fault ? (
          <Fault error={fault} />
        ) : session.data && choice.data ? (
          session.data.marks === 0 ? (
            <div className="pt-6">
              <h1 className="text-[26px]">{t("report:report_page.nothing_to_report_yet")}</h1>
              <p className="mt-2">{t("report:report_page.code_the_film_first_the")}</p>
            </div>
          ) : (
            <Report session={session.data} choice={choice.data} />
          )
        ) : (
          <Wait>{t("report:report_page.putting_the_report_together")}</Wait>
        )}
      </main>
    </Shell>
  );
}

function Report({ session, choice }: { session: SessionOut; choice: Choice }) {
  const client = useQueryClient();
  const tell = useNotice();
  const [chosen, setChosen] = useState(session.report);
  const [version, setVersion] = useState(0);
  const latest = useRef(chosen);
  const sending = useRef(Promise.resolve());
  const pictures = chosen.pictures ?? choice.usual;
  const base = `/api/sessions/${session.id}`;

  const send = async (next: Chosen) => {
    const fault = await appendEdit(session.id, { op: "facts", set: { report: next } });
    if (fault) return tell(fault);
    client.setQueryData<SessionOut>(
      ["session", session.id],
      (old) => old && { ...old, report: { ...next } },
    );
    setVersion((n) => n + 1);
  };
  const set = (values: Chosen) => {
    const next = { ...latest.current, ...values };
    latest.current = next;
    setChosen(next);
    sending.current = sending.current.then(() => send(next));
  };
  const toggle = (mark: string) => {
    if (pictures.includes(mark)) return set({ pictures: pictures.filter((m) => m !== mark) });
    if (pictures.length >= MOST) {
      return tell(t("report:report_page.there_is_room_for_most", { MOST }));
    }
    // In the order of the film, whatever the order of choosing.
    const order = choice.candidates.map((c) => c.mark);
    set({ pictures: order.filter((m) => m === mark || pictures.includes(m)) });
  };

  return (
    <div className="grid min-h-0 flex-1 grid-cols-[24rem_1fr] gap-8 max-lg:grid-cols-1">
      <div className="min-w-0">
        <h1 className="text-[26px] leading-tight">{t("report:report_page.report")}</h1>
        <p className="mt-1 text-soft">{t("report:report_page.two_pages_for_a_client")}</p>
        <p className="mt-4 flex flex-wrap gap-2">
          <a
            className="rounded border border-ink bg-ink px-3 py-1 leading-6 text-paper"
            href={`${base}/report.pdf`}
            download
          >
            {t("report:report_page.pdf")}
          </a>
          <a
            className="rounded border border-line bg-raised px-3 py-1 leading-6 hover:border-ink"
            href={`${base}/report.html?download=true`}
            download
          >
            {t("report:report_page.web_page_html")}
          </a>
        </p>
        <label className="mt-5 block">
          {t("report:report_page.for")}
          <input
            maxLength={200}
            placeholder={t("report:report_page.who_reads_it")}
            defaultValue={chosen.reader ?? ""}
            onBlur={(event) => {
              if (event.target.value !== (chosen.reader ?? "")) set({ reader: event.target.value });
            }}
            className={FIELD}
          />
        </label>
        <label className="mt-3 block">
          {t("report:report_page.in_your_own_words")}
          <textarea
            rows={3}
            maxLength={1200}
            placeholder={t("report:report_page.what_you_would_say_if")}
            defaultValue={chosen.words ?? ""}
            onBlur={(event) => {
              if (event.target.value !== (chosen.words ?? "")) set({ words: event.target.value });
            }}
            className={FIELD}
          />
        </label>
        {choice.candidates.length > 0 && (
          <fieldset className="mt-4">
            <legend>
              <Trans
                i18nKey="report:report_page.pictures_picturescount_of_at_most"
                components={{ part: <span className="text-soft" /> }}
                values={{ picturesCount: pictures.length, MOST }}
              />
            </legend>
            <div className="mt-1 grid max-h-[21rem] grid-cols-3 gap-2 overflow-y-auto pr-1 max-lg:max-h-64">
              {choice.candidates.map((candidate) => {
                const is = pictures.includes(candidate.mark);
                return (
                  <button
                    key={candidate.mark}
                    type="button"
                    aria-pressed={is}
                    aria-label={candidate.caption}
                    title={candidate.caption}
                    onClick={() => toggle(candidate.mark)}
                    className={`rounded-[3px] border-2 p-0.5 text-left ${is ? "border-ink" : "border-transparent hover:border-line"}`}
                  >
                    <img
                      loading="lazy"
                      alt=""
                      src={`/api/films/${candidate.film_id}/frames/${candidate.frame}.jpg?lines=120`}
                      className={`aspect-video w-full rounded-[2px] bg-hair object-cover ${is ? "" : "opacity-70"}`}
                    />
                    <span className="line-clamp-2 text-[11.5px] leading-tight">
                      {candidate.caption}
                    </span>
                  </button>
                );
              })}
            </div>
          </fieldset>
        )}
      </div>
      <iframe
        key={version}
        title={t("report:report_page.the_report_as_it_stands")}
        src={`${base}/report.html`}
        className="h-[calc(100vh-5.5rem)] w-full rounded border border-line bg-[#fff]"
      />
    </div>
  );
}
