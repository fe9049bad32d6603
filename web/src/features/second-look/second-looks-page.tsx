import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";

import { api, given } from "../../api/client";
import { useMe, useMembers, useSession } from "../../api/queries";
import { Button } from "../../components/button";
import { useNotice } from "../../components/notice";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import { wordsOf } from "../../domain/marks";
import { counted, milliseconds, percent, uncertainty } from "../../domain/times";
import { crumbOf } from "../../domain/words";
import { t } from "../../words";
import type { SecondLook, SecondLooks } from "./use-second-look";

/** Second looks: whose turn it is, what is proposed, and what they say of those who code. */
export function SecondLooksPage() {
  const looks = useQuery({
    queryKey: ["second-looks"],
    queryFn: async () => given(await api.GET("/api/second-looks")),
  });
  return (
    <Shell title={t("second_look:list.second_looks")}>
      <main className="mx-auto w-full max-w-[1000px] px-[18px] pt-7 pb-16">
        <h1 className="text-[29px] leading-tight">{t("second_look:list.second_looks")}</h1>
        <p className="mt-2 max-w-[70ch] text-soft">{t("second_look:list.what_it_is")}</p>
        {looks.error ? (
          <Fault error={looks.error} />
        ) : looks.data ? (
          <All looks={looks.data} />
        ) : (
          <Wait>{t("second_look:page.opening")}</Wait>
        )}
      </main>
    </Shell>
  );
}

function All({ looks }: { looks: SecondLooks }) {
  const [search] = useSearchParams();
  const wanted = search.get("ask");
  const yours = looks.looks.filter((look) => look.is_yours && !look.second_done);
  const others = looks.looks.filter((look) => !yours.includes(look));
  const nothing = looks.looks.length === 0 && looks.proposed.length === 0 && !wanted;
  return (
    <>
      {wanted && <Wanted sessionId={wanted} />}
      {nothing && <p className="mt-8">{t("second_look:list.nothing_yet")}</p>}
      <Section id="yours" title={t("second_look:list.for_you_to_code")} isShown={yours.length > 0}>
        {yours.map((look) => (
          <Row key={look.id} look={look} />
        ))}
      </Section>
      <Section
        id="proposed"
        title={t("second_look:list.proposed")}
        note={t("second_look:list.drawn_by_lot", { share: percent(looks.share) })}
        isShown={looks.proposed.length > 0}
      >
        {looks.proposed.map((session) => (
          <li
            key={session.id}
            className="flex flex-wrap items-center gap-3 border-b border-hair py-2.5"
          >
            <Link
              to={`/sessions/${session.id}/findings`}
              className="min-w-0 flex-1 underline-offset-3 hover:underline"
            >
              {crumbOf(session)}
            </Link>
            <Ask sessionId={session.id} />
          </li>
        ))}
      </Section>
      <Section id="all" title={t("second_look:list.all")} isShown={others.length > 0}>
        {others.map((look) => (
          <Row key={look.id} look={look} />
        ))}
      </Section>
      <Spreads looks={looks} />
    </>
  );
}

interface SectionProps {
  id: string;
  title: string;
  note?: string;
  isShown: boolean;
  children: ReactNode;
}

function Section({ id, title, note, isShown, children }: SectionProps) {
  if (!isShown) return null;
  return (
    <section aria-labelledby={id} className="mt-8 border-t border-ink pt-3">
      <h2 id={id} className="text-[16px] font-semibold">
        {title}
      </h2>
      {note && <p className="text-[13px] text-soft">{note}</p>}
      <ul>{children}</ul>
    </section>
  );
}

function stateOf(look: SecondLook): string {
  if (look.opened_at) return t("second_look:list.both_are_done");
  if (look.second_done) return t("second_look:list.waits_for_the_first");
  return look.is_yours
    ? t("second_look:list.waits_for_you")
    : t("second_look:list.waits_for", { name: look.reviewer });
}

function Row({ look }: { look: SecondLook }) {
  return (
    <li className="flex flex-wrap items-center gap-3 border-b border-hair py-2.5">
      <span className="min-w-0 flex-1">
        {crumbOf(look.session)}
        <span className="block text-[13px] text-soft">
          {t("second_look:list.coded_again_by", { name: look.reviewer })} · {stateOf(look)}
        </span>
      </span>
      <Link
        to={`/second-looks/${look.id}`}
        className="rounded border border-line bg-raised px-3 py-1 leading-6 hover:border-ink"
      >
        {look.opened_at ? t("second_look:list.compare") : t("second_look:list.open")}
      </Link>
    </li>
  );
}

/** The session somebody came from, to ask for a second look at it. */
function Wanted({ sessionId }: { sessionId: string }) {
  const session = useSession(sessionId);
  if (session.error) return <Fault error={session.error} />;
  if (!session.data) return <Wait>{t("second_look:page.opening")}</Wait>;
  return (
    <section aria-labelledby="wanted" className="mt-8 border-t border-ink pt-3">
      <h2 id="wanted" className="text-[16px] font-semibold">
        {t("second_look:list.who_codes_it_again")}
      </h2>
      <p className="flex flex-wrap items-center gap-3 py-2.5">
        <span className="min-w-0 flex-1">{crumbOf(session.data)}</span>
        <Ask sessionId={sessionId} />
      </p>
    </section>
  );
}

/** Whom to ask, and asking. */
function Ask({ sessionId }: { sessionId: string }) {
  const members = useMembers();
  const me = useMe();
  const tell = useNotice();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [chosen, setChosen] = useState<number>();
  const [isBusy, setIsBusy] = useState(false);
  const able = members.data?.members.filter((member) => member.role !== "reader") ?? [];
  const other = able.find((member) => !member.is_you) ?? able[0];
  if (!other || me.data?.role === "reviewer") return null;
  const ask = async () => {
    setIsBusy(true);
    try {
      const look = given(
        await api.POST("/api/sessions/{session_id}/second-looks", {
          params: { path: { session_id: sessionId } },
          body: { member_id: chosen ?? other.id },
        }),
      );
      void client.invalidateQueries({ queryKey: ["second-looks"] });
      void navigate(`/second-looks/${look.id}`);
    } catch (error) {
      setIsBusy(false);
      tell(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <>
      <select
        aria-label={t("second_look:list.by_whom")}
        value={chosen ?? other.id}
        onChange={(event) => setChosen(Number(event.target.value))}
        className="h-8 rounded border border-line bg-raised px-2"
      >
        {able.map((member) => (
          <option key={member.id} value={member.id}>
            {member.is_you
              ? t("second_look:list.yourself_again")
              : t("second_look:list.by_named", { name: member.username })}
          </option>
        ))}
      </select>
      <Button disabled={isBusy} onClick={() => void ask()}>
        {t("second_look:list.ask")}
      </Button>
    </>
  );
}

/** How each reviewer's marks lie against the first ones, over all second looks. */
function Spreads({ looks }: { looks: SecondLooks }) {
  if (looks.reviewers.length === 0) return null;
  return (
    <section aria-labelledby="spreads" className="mt-9 border-t border-ink pt-3">
      <h2 id="spreads" className="text-[16px] font-semibold">
        {t("second_look:list.how_marks_lie")}
      </h2>
      <p className="max-w-[70ch] text-[13px] text-soft">{t("second_look:list.neither_is_right")}</p>
      {looks.reviewers.map(({ reviewer, looks: count, kinds }) => (
        <div key={reviewer} className="mt-3">
          <h3 className="font-semibold">
            {reviewer}{" "}
            <span className="font-normal text-soft">
              · {t("second_look:list.looks", { count })}
            </span>
          </h3>
          <ul className="num">
            {kinds.map(({ kind, bias_s, u_s }) => (
              <li key={kind} className="flex flex-wrap gap-x-3 border-b border-hair py-1">
                <span className="w-44">{wordsOf(kind)}</span>
                <span className="w-24 text-soft">{counted(bias_s.n, "mark")}</span>
                <span className="flex-1">
                  {t("second_look:list.lies_later_by", {
                    by: bias_s.mean === null ? "–" : milliseconds(bias_s.mean),
                  })}
                  {bias_s.mean_low !== null && bias_s.mean_high !== null && (
                    <span className="text-soft">
                      {" "}
                      {t("second_look:agreement_table.from_to", {
                        low: milliseconds(bias_s.mean_low),
                        high: milliseconds(bias_s.mean_high),
                      })}
                    </span>
                  )}
                </span>
                <span>
                  {u_s === null
                    ? t("second_look:list.too_few_marks")
                    : t("second_look:list.sure_to", { sure: uncertainty(u_s) })}
                </span>
              </li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  );
}
