import { useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { api, given } from "../../api/client";
import { Button } from "../../components/button";
import { useNotice } from "../../components/notice";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import { usePageWidth } from "../../components/use-width";
import {
  differences,
  isAlike,
  nextOpen,
  pairKey,
  type Choice,
  type Comparison,
  type Pair,
} from "../../domain/second-look";
import { counted } from "../../domain/times";
import { crumbOf } from "../../domain/words";
import { t } from "../../words";
import { AgreementTable } from "./agreement-table";
import { FacingLadders } from "./facing-ladders";
import { SettlePanel } from "./settle-panel";
import { useComparison, useSayDone, useSecondLook, type SecondLook } from "./use-second-look";

/** A second look: who is done, and then both codings facing each other. */
export function SecondLookPage() {
  const id = useParams()["lookId"] ?? "";
  const look = useSecondLook(id);
  const comparison = useComparison(id, !!look.data?.opened_at);
  const crumb = look.data ? crumbOf(look.data.session) : "";
  const fault = look.error ?? comparison.error;
  return (
    <Shell
      title={[t("second_look:page.second_look"), crumb].filter(Boolean).join(" · ")}
      crumb={crumb}
    >
      <main className="mx-auto w-full max-w-[1160px] px-[18px] pt-7 pb-16">
        {fault ? (
          <Fault error={fault} />
        ) : comparison.data ? (
          <Opened id={id} comparison={comparison.data} />
        ) : look.data && !look.data.opened_at ? (
          <Waiting look={look.data} />
        ) : (
          <Wait>{t("second_look:page.opening")}</Wait>
        )}
      </main>
    </Shell>
  );
}

/** Until both have said that they are done: who is, and what is left to do. */
function Waiting({ look }: { look: SecondLook }) {
  const sayDone = useSayDone(look.id);
  const tell = useNotice();
  const client = useQueryClient();
  const navigate = useNavigate();
  const say = (coding: "first" | "second", isDone: boolean) =>
    void sayDone(coding, isDone).catch((error: Error) => tell(error.message));
  const giveUp = async () => {
    try {
      given(
        await api.DELETE("/api/second-looks/{look_id}", {
          params: { path: { look_id: look.id } },
        }),
      );
      void client.invalidateQueries({ queryKey: ["second-looks"] });
      void navigate("/second-looks");
    } catch (error) {
      tell(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <>
      <h1 className="max-w-[40ch] text-[29px] leading-[1.2] max-md:text-[24px]">
        {look.is_yours
          ? t("second_look:page.you_code_it_again")
          : t("second_look:page.named_codes_it_again", { name: look.reviewer })}
      </h1>
      <p className="mt-2 max-w-[65ch] text-soft">{t("second_look:page.neither_sees_the_other")}</p>
      <ul className="mt-6 max-w-2xl border-t border-ink">
        <Side
          name={t("second_look:page.first_coding")}
          isDone={look.first_done}
          may={!look.is_yours}
          onSay={(isDone) => say("first", isDone)}
        />
        <Side
          name={t("second_look:page.second_coding_of", { name: look.reviewer })}
          detail={look.is_yours ? counted(look.marks, "mark") : ""}
          isDone={look.second_done}
          may={look.is_yours}
          onSay={(isDone) => say("second", isDone)}
        >
          {look.is_yours && !look.second_done && (
            <Link
              to={`/sessions/${look.coding_id}/bench`}
              className="rounded border border-ink bg-ink px-3 py-1 leading-6 text-paper hover:opacity-90"
            >
              {t("second_look:page.code_it")}
            </Link>
          )}
        </Side>
      </ul>
      <p className="mt-6">
        <Button look="quiet" onClick={() => void giveUp()}>
          {t("second_look:page.give_it_up")}
        </Button>
      </p>
    </>
  );
}

interface SideProps {
  name: string;
  detail?: string;
  isDone: boolean;
  may: boolean;
  onSay: (isDone: boolean) => void;
  children?: ReactNode;
}

function Side({ name, detail, isDone, may, onSay, children }: SideProps) {
  return (
    <li className="flex flex-wrap items-center gap-3 border-b border-hair py-3">
      <span className="flex-1">
        {name}
        {detail && <span className="num text-soft"> · {detail}</span>}
      </span>
      <span className={isDone ? "" : "text-soft"}>
        {isDone ? t("second_look:page.done") : t("second_look:page.not_done_yet")}
      </span>
      {children}
      {may && (
        <Button onClick={() => onSay(!isDone)}>
          {isDone ? t("second_look:page.not_done_after_all") : t("second_look:page.it_is_done")}
        </Button>
      )}
    </li>
  );
}

/** Both codings: how far they agree, and what is to be settled. */
function Opened({ id, comparison }: { id: string; comparison: Comparison }) {
  const { pairs, look, titles } = comparison;
  const client = useQueryClient();
  const tell = useNotice();
  const [isBusy, setIsBusy] = useState(false);
  const open = differences(pairs);
  const [at, setAt] = useState(() => nextOpen(open, -1) ?? 0);
  const width = useRoom();
  const plan = {
    approximations: Object.entries(titles).map(([key, title]) => ({ key, title })),
  };
  const names = {
    first: look.reviewer === look.asked_by ? t("second_look:page.the_first") : look.session.trainer,
    second: look.reviewer === look.asked_by ? t("second_look:page.the_second") : look.reviewer,
  };
  if (!names.first || names.first === names.second) names.first = t("second_look:page.the_first");
  const settle = async (pair: Pair, chosen: Choice, frame?: number) => {
    setIsBusy(true);
    try {
      const answer = await api.POST("/api/second-looks/{look_id}/settled", {
        params: { path: { look_id: id } },
        body: {
          first_id: pair.first?.event.id ?? null,
          second_id: pair.second?.event.id ?? null,
          chosen,
          frame: frame ?? null,
        },
      });
      const now = given(answer);
      client.setQueryData(["comparison", id], now);
      setAt(nextOpen(differences(now.pairs), at) ?? at);
    } catch (error) {
      tell(error instanceof Error ? error.message : String(error));
    } finally {
      setIsBusy(false);
    }
  };
  const both = pairs.filter((p) => p.first && p.second).length;
  const left = open.filter((p) => !p.settled).length;
  const chosen = open[at];
  return (
    <>
      <h1 className="max-w-[44ch] text-[29px] leading-[1.2] max-md:text-[24px]">
        {left > 0
          ? t("second_look:page.left_to_settle", { count: left })
          : open.length > 0
            ? t("second_look:page.all_is_settled")
            : t("second_look:page.you_agree_on_everything")}
      </h1>
      <p className="mt-2 max-w-[75ch] text-soft">
        {t("second_look:page.both_have_so_many", {
          both,
          all: counted(pairs.length, "mark"),
          alike: pairs.filter(isAlike).length,
        })}
      </p>
      {chosen && (
        <SettlePanel
          pairs={open}
          at={at}
          plan={plan}
          names={names}
          isBusy={isBusy}
          onMove={(step) => setAt((at + step + open.length) % open.length)}
          onSettle={(choice, frame) => void settle(chosen, choice, frame)}
        />
      )}
      <FacingLadders
        pairs={pairs}
        lengthS={comparison.length_s}
        names={names}
        width={width}
        chosen={chosen ? pairKey(chosen) : null}
        onChoose={(pair) => {
          const place = open.findIndex((p) => pairKey(p) === pairKey(pair));
          if (place >= 0) setAt(place);
        }}
      />
      <AgreementTable comparison={comparison} />
      <Link
        to={`/sessions/${look.session.id}/findings`}
        className="mt-6 inline-block underline underline-offset-3"
      >
        {t("second_look:page.to_the_findings")}
      </Link>
    </>
  );
}

const [MOST_PX, MARGIN_PX] = [1124, 36];

/** So wide the drawing may be, pixels. */
function useRoom(): number {
  return Math.min(MOST_PX, usePageWidth() - MARGIN_PX);
}
