import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";

import { api, given, type SessionOut } from "../../api/client";
import { useSession } from "../../api/queries";
import { Button } from "../../components/button";
import { useNotice } from "../../components/notice";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import { appendEdit } from "../../domain/append-edit";
import { commonLevels, scriptDocument, type ScriptOut } from "../../domain/script";
import { counted } from "../../domain/times";
import { levelWords, nextWords } from "../../domain/variation";
import { crumbOf } from "../../domain/words";
import { t } from "../../words";
import { RepByRep } from "./rep-by-rep";
import { ScriptList } from "./script-list";

/** The next session, rep by rep: to print, or to be led by on a phone. */
export function ScriptPage() {
  const sessionId = useParams()["sessionId"] ?? "";
  const [search] = useSearchParams();
  const seed = search.get("seed");
  const session = useSession(sessionId);
  const script = useQuery({
    queryKey: ["script", sessionId, seed],
    queryFn: async () =>
      given(
        await api.GET("/api/plans/next/{session_id}/script", {
          params: {
            path: { session_id: sessionId },
            query: seed === null ? {} : { seed: Number(seed) },
          },
        }),
      ),
  });
  const crumb = session.data ? crumbOf(session.data) : "";
  const fault = session.error ?? script.error;
  return (
    <Shell
      title={[t("next:script_page.script"), crumb].filter(Boolean).join(" · ")}
      crumb={crumb}
      sessionId={sessionId}
    >
      <main className="mx-auto w-full max-w-[900px] flex-1 px-[18px] pt-7 pb-16 print:max-w-none print:pt-0 print:pb-0">
        {fault ? (
          <Fault error={fault} />
        ) : session.data && script.data ? (
          <Whole session={session.data} script={script.data} />
        ) : (
          <Wait>{t("next:script_page.putting_it_in_order")}</Wait>
        )}
      </main>
    </Shell>
  );
}

function Whole({ session, script }: { session: SessionOut; script: ScriptOut }) {
  const client = useQueryClient();
  const tell = useNotice();
  const [, setSearch] = useSearchParams();
  const [isLed, setIsLed] = useState(false);
  const titleOf = (key: string | null) => (key === null ? "" : (script.titles[key] ?? key));
  /** What goes to the yard is kept as it stands: the session is held against it afterwards. */
  const keep = async () => {
    if (script.is_kept) return true;
    const set = { script: scriptDocument(script) };
    const fault = await appendEdit(session.id, { op: "facts", set });
    if (fault) tell(fault);
    else {
      client.setQueryData(["script", session.id, null], { ...script, is_kept: true });
      setSearch({}, { replace: true });
    }
    return !fault;
  };
  if (isLed) {
    return (
      <RepByRep
        sessionId={session.id}
        script={script}
        titleOf={titleOf}
        onEnd={() => setIsLed(false)}
      />
    );
  }
  const always = levelWords(commonLevels(script.lines));
  const whose = [session.learner, session.behaviour].filter(Boolean).join(" · ");
  return (
    <>
      <p className="text-soft">{t("next:script_page.script_whose", { whose })}</p>
      <h1 className="mt-1 text-[27px] leading-[1.2]">
        {t("next:script_page.reps_minutes_rewards", {
          reps: counted(script.reps, "rep"),
          minutes: script.minutes,
          rewards: counted(script.rewards, "reward"),
        })}
      </h1>
      {script.levels.why !== "no_conditions" && (
        <p className="mt-2 max-w-[62ch]">{nextWords(script.levels)}</p>
      )}
      {always && <p className="mt-1 text-soft">{t("next:script_page.always_at", { always })}</p>}
      <div className="no-print mt-4 flex flex-wrap items-center gap-2">
        <Button look="main" onClick={() => void keep().then((kept) => kept && setIsLed(true))}>
          {t("next:script_page.lead_me")}
        </Button>
        <Button onClick={() => void keep().then((kept) => kept && window.print())}>
          {t("next:script_page.print")}
        </Button>
        <Button
          look="quiet"
          onClick={() => setSearch({ seed: String(Math.floor(Math.random() * 2 ** 32)) })}
        >
          {t("next:script_page.another_order")}
        </Button>
        <Link className="underline underline-offset-3" to={`/sessions/${session.id}/next`}>
          {t("next:script_page.back_to_the_card")}
        </Link>
        {script.is_kept && (
          <span role="status" className="text-soft">
            {t("next:script_page.kept_as_it_stands")}
          </span>
        )}
      </div>
      <ScriptList lines={script.lines} titleOf={titleOf} />
      <ul className="mt-5 space-y-1 border-t border-ink pt-3 text-[15px] print:text-[12pt]">
        {script.stop_rules.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
    </>
  );
}
