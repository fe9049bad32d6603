import { zodResolver } from "@hookform/resolvers/zod";
import { useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { useForm } from "react-hook-form";
import { z } from "zod";

import { api, faultsOf, whyNot } from "../../api/client";
import { useMe } from "../../api/queries";
import { PaperDialog } from "../../components/paper-dialog";
import { Button } from "../../components/button";
import { Wrong } from "../../components/field";
import { neededNumber, neededText, optionalNumber } from "../../components/form-values";
import { useNotice } from "../../components/notice";
import { counted } from "../../domain/times";
import { HELP } from "../../domain/help-levels";
import { noteOf, type Logged, type LogbookOut } from "../../domain/behaviour-logbook";
import { logbookKey } from "./queries";
import { t } from "../../words";

interface HandDialogProps {
  logbook: LogbookOut;
  /** The session to change; null for a new one. */
  session: Logged | null;
  onClose: () => void;
}

/** More signs of one strength are no session any more. */
const MOST_SIGNS = 50;
const BY_HAND = z
  .object({
    date: neededText,
    trainer: z.string().trim(),
    approximation: z.string(),
    minutes: neededNumber(0),
    reps: optionalNumber(0),
    met: optionalNumber(0),
    reinforcements: optionalNumber(0),
    opt_outs: optionalNumber(0),
    slight: optionalNumber(0, MOST_SIGNS),
    marked: optionalNumber(0, MOST_SIGNS),
    severe: optionalNumber(0, MOST_SIGNS),
    help: z.string(),
    conditions: z.string().trim(),
    note: z.string().trim(),
  })
  .superRefine(({ reps, met }, context) => {
    if (reps === null || met === null || met <= reps) return;
    const message = t("logbook:hand_dialog.more_than_the_reps", { reps: counted(reps, "rep") });
    context.addIssue({ code: "custom", path: ["met"], message });
  });
type Pencilled = z.input<typeof BY_HAND>;
type Counted = z.output<typeof BY_HAND>;

const FIELD = "h-8 rounded border border-line bg-paper px-2";

/** A session without film, as somebody with a pencil kept it: minutes and counts. */
export function HandDialog({ logbook, session, onClose }: HandDialogProps) {
  const client = useQueryClient();
  const me = useMe();
  const tell = useNotice();
  const { register, handleSubmit, setError, formState } = useForm<Pencilled, unknown, Counted>({
    resolver: zodResolver(BY_HAND),
    defaultValues: {
      date: session?.date ?? new Date().toLocaleDateString("sv"),
      trainer: session?.trainer ?? me.data?.username ?? "",
      approximation: session?.step ?? "",
      minutes: written(session?.counts?.minutes),
      reps: written(session?.counts?.reps),
      met: written(session?.counts?.met),
      reinforcements: written(session?.counts?.reinforcements),
      opt_outs: written(session?.counts?.opt_outs),
      slight: signsIn(session, 1),
      marked: signsIn(session, 2),
      severe: signsIn(session, 3),
      help: session?.counts?.help ?? "",
      conditions: conditionsIn(session),
      note: session ? noteOf(session) : "",
    },
  });
  const { errors } = formState;

  const refresh = () =>
    void client.invalidateQueries({ queryKey: logbookKey(logbook.behaviour_id) });

  const keep = async ({ date, trainer, slight, marked, severe, conditions, ...rest }: Counted) => {
    const signs = [slight, marked, severe].flatMap((n, place) =>
      Array.from({ length: n ?? 0 }, () => ({ severity: place + 1 })),
    );
    const said = Object.entries(rest).filter(([, value]) => value !== null && value !== "");
    const body = {
      date,
      trainer,
      tags: session?.tags ?? [],
      counts: {
        ...Object.fromEntries(said),
        ...(signs.length > 0 ? { signs } : {}),
        ...conditionsOf(conditions),
      },
    };
    const answer = await (
      session
        ? api.PUT("/api/logbook/by-hand/{session_id}", {
            params: { path: { session_id: session.session_id } },
            body,
          })
        : api.POST("/api/logbook/{behaviour_id}/by-hand", {
            params: { path: { behaviour_id: logbook.behaviour_id } },
            body,
          })
    ).catch(() => null);
    if (!answer?.data) {
      setError("root", {
        message: answer
          ? faultsOf(answer.error, answer.response.status).map(spoken).join(" ")
          : whyNot(null),
      });
      return;
    }
    refresh();
    onClose();
  };

  const remove = async () => {
    if (!session) return;
    const answer = await api.DELETE("/api/sessions/{session_id}", {
      params: { path: { session_id: session.session_id } },
    });
    refresh();
    onClose();
    if (!answer.response.ok) {
      tell(faultsOf(answer.error, answer.response.status).join(" "));
      return;
    }
    tell(t("logbook:hand_dialog.the_session_counted_by_hand"), {
      label: t("common:undo"),
      run: () => void bringBack(session),
    });
  };

  /** What was removed, entered again as it stood. */
  const bringBack = async (gone: Logged) => {
    const answer = await api.POST("/api/logbook/{behaviour_id}/by-hand", {
      params: { path: { behaviour_id: logbook.behaviour_id } },
      body: {
        date: gone.date ?? "",
        trainer: gone.trainer,
        tags: gone.tags,
        counts: gone.counts ?? {},
      },
    });
    if (!answer.data) tell(faultsOf(answer.error, answer.response.status).join(" "));
    refresh();
  };

  const count = (
    name: "minutes" | "reps" | "met" | "reinforcements" | "opt_outs",
    label: string,
    step = 1,
  ) => (
    <>
      <Line label={label}>
        <input
          {...register(name)}
          type="number"
          min={0}
          step={step}
          aria-invalid={errors[name] !== undefined}
          className={`${FIELD} num w-24`}
        />
      </Line>
      <Wrong beside fault={errors[name]?.message} />
    </>
  );
  return (
    <PaperDialog
      title={
        session
          ? t("logbook:hand_dialog.a_session_counted_by_hand")
          : t("logbook:hand_dialog.a_session_without_film")
      }
      description={t("logbook:hand_dialog.it_counts_towards_rate_doses")}
      className="w-[32rem]"
      onClose={onClose}
    >
      <form noValidate onSubmit={(event) => void handleSubmit(keep)(event)} className="space-y-2.5">
        <Line label={t("common:day")}>
          <input {...register("date")} type="date" className={FIELD} />
        </Line>
        <Wrong beside fault={errors.date?.message} />
        <Line label={t("logbook:hand_dialog.trainer")}>
          <input {...register("trainer")} maxLength={200} className={FIELD} />
        </Line>
        <Line label={t("common:step")}>
          <select {...register("approximation")} className={FIELD}>
            <option value="">{t("logbook:hand_dialog.no_step")}</option>
            {logbook.order.map((key) => (
              <option key={key} value={key}>
                {logbook.titles[key] ?? key}
              </option>
            ))}
          </select>
        </Line>
        {count("minutes", t("logbook:hand_dialog.minutes"), 0.1)}
        {count("reps", t("logbook:hand_dialog.reps"))}
        {count("met", t("logbook:hand_dialog.of_them_fit"))}
        {count("reinforcements", t("logbook:hand_dialog.rewarded"))}
        <Line label={t("logbook:hand_dialog.signs_of_strain")}>
          <span className="flex flex-wrap items-center gap-2">
            {SIGNS.map(({ name, words }) => (
              <label key={name} className="flex items-center gap-1">
                <input
                  {...register(name)}
                  type="number"
                  min={0}
                  max={50}
                  aria-label={t("logbook:hand_dialog.words_signs", { words })}
                  className={`${FIELD} num w-16`}
                />
                {words}
              </label>
            ))}
          </span>
        </Line>
        <Wrong beside fault={(errors.slight ?? errors.marked ?? errors.severe)?.message} />
        {count("opt_outs", t("logbook:hand_dialog.it_left"))}
        <Line label={t("logbook:hand_dialog.most_help")}>
          <select {...register("help")} className={FIELD}>
            <option value="">{t("logbook:hand_dialog.not_said")}</option>
            <option value="none">{t("logbook:hand_dialog.none")}</option>
            {HELP.map((h) => (
              <option key={h.level} value={h.level}>
                {h.words}
              </option>
            ))}
          </select>
        </Line>
        <Line label={t("logbook:hand_dialog.conditions")}>
          <input
            {...register("conditions")}
            placeholder={t("logbook:hand_dialog.side_left_place_barn")}
            maxLength={400}
            className={`${FIELD} w-full`}
          />
        </Line>
        <Line label={t("logbook:hand_dialog.note")}>
          <input {...register("note")} maxLength={400} className={`${FIELD} w-full`} />
        </Line>
        <Wrong fault={errors.root?.message} />
        <div className="flex justify-end gap-2 pt-2">
          {session && (
            <Button look="quiet" onClick={() => void remove()}>
              {t("common:remove")}
            </Button>
          )}
          <Button onClick={onClose}>{t("common:not_now")}</Button>
          <Button look="main" type="submit">
            {t("logbook:hand_dialog.keep")}
          </Button>
        </div>
      </form>
    </PaperDialog>
  );
}

const SIGNS = [
  { name: "slight", words: t("logbook:hand_dialog.slight") },
  { name: "marked", words: t("logbook:hand_dialog.marked") },
  { name: "severe", words: t("logbook:hand_dialog.severe") },
] as const;

/** A count as it stands in its field; empty where it was not said. */
function written(count: number | undefined): string {
  return count === undefined ? "" : `${count}`;
}

function signsIn(session: Logged | null, severity: number): string {
  const n = session?.counts?.signs?.filter((sign) => sign.severity === severity).length ?? 0;
  return n > 0 ? `${n}` : "";
}

/** `side: left, place: barn` as conditions by their names. */
function conditionsOf(text: string): { conditions?: Record<string, string> } {
  const pairs = text
    .split(",")
    .map((pair) => pair.split(":").map((part) => part.trim()))
    .filter(([name, level]) => name && level);
  return pairs.length > 0
    ? { conditions: Object.fromEntries(pairs) as Record<string, string> }
    : {};
}

function conditionsIn(session: Logged | null): string {
  return Object.entries(session?.counts?.conditions ?? {})
    .map(([name, level]) => `${name}: ${level}`)
    .join(", ");
}

/** A fault of the core's with the field's own name. */
function spoken(fault: string): string {
  return fault
    .replace(/^by_hand\.minutes/, t("logbook:hand_dialog.minutes"))
    .replace(/^by_hand\.reps/, t("logbook:hand_dialog.reps"))
    .replace(/^by_hand\.met/, t("logbook:hand_dialog.of_them_fit_2"))
    .replace(/^by_hand\.reinforcements/, t("logbook:hand_dialog.rewarded"));
}

function Line({ label, children }: { label: string; children: ReactNode }) {
  return (
    <label className="grid grid-cols-[7rem_1fr] items-center justify-items-start">
      {label}
      {children}
    </label>
  );
}
