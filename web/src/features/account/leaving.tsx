import { zodResolver } from "@hookform/resolvers/zod";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { z } from "zod";

import { api, faultsOf, given } from "../../api/client";
import type { components } from "../../api/schema";
import { Button } from "../../components/button";
import { Field } from "../../components/field";
import { day } from "../../domain/words";
import { BringBack } from "./bring-back";
import { t } from "../../words";

type WorkspaceOut = components["schemas"]["WorkspaceOut"];

/** Taking everything along, and going for good. */
export function Leaving() {
  const workspace = useQuery({
    queryKey: ["workspace"],
    queryFn: async () => given(await api.GET("/api/me/workspace")),
  });
  if (!workspace.data) return null;
  const { name, trainers } = workspace.data;
  const isAlone = trainers.length < 2;
  return (
    <>
      <section className="mt-10 border-t border-line pt-6" aria-labelledby="take-along">
        <h2 id="take-along" className="text-[18px] font-semibold">
          {t("account:leaving.everything_as_one_file")}
        </h2>
        <p className="mt-1 text-soft">{t("account:leaving.all_of_name_in_open", { name })}</p>
        <p className="mt-3 flex flex-wrap gap-2">
          <a className={LINK} href="/api/me/workspace.zip?films=true">
            {t("account:leaving.with_the_films")}
          </a>
          <a className={LINK} href="/api/me/workspace.zip?films=false">
            {t("account:leaving.without_the_films")}
          </a>
        </p>
      </section>
      <BringBack name={name} isEmpty={workspace.data.is_empty} />
      <Backups backups={workspace.data.backups} last={workspace.data.last_backup} />
      <section className="mt-10 border-t border-line pt-6" aria-labelledby="go">
        <h2 id="go" className="text-[18px] font-semibold">
          {t("account:leaving.leave_for_good")}
        </h2>
        <p className="mt-1 text-soft">
          {t("account:leaving.what_is_removed_here_is", {
            text: isAlone
              ? t("account:leaving.you_are_the_only_trainer", { name })
              : t("account:leaving.trainers_work_in_name_without", {
                  trainers: trainers.join(" and "),
                  name,
                }),
          })}
        </p>
        <Removal
          what="/api/me/remove"
          label={t("account:leaving.remove_my_account")}
          sure={
            isAlone
              ? t("account:leaving.remove_my_account_and_all", { name })
              : t("account:leaving.remove_my_account")
          }
        />
        {!isAlone && (
          <Removal
            what="/api/me/workspace/remove"
            label={t("account:leaving.remove_name", { name })}
            sure={t("account:leaving.remove_all_of_name_for", { name })}
          />
        )}
      </section>
    </>
  );
}

/** What the server saves by itself, and when it last did. */
function Backups({ backups, last }: { backups: boolean; last: WorkspaceOut["last_backup"] }) {
  const [now] = useState(() => Date.now());
  const days = last ? Math.floor((now - Date.parse(last.at)) / 86_400_000) : null;
  const isLate = backups && (days === null || days >= LATE_DAYS);
  return (
    <section className="mt-10 border-t border-line pt-6" aria-labelledby="backups">
      <h2 id="backups" className="text-[18px] font-semibold">
        {t("account:leaving.backups")}
      </h2>
      {!backups ? (
        <p className="mt-1 text-soft">{t("account:leaving.this_server_saves_nothing_by")}</p>
      ) : (
        <p className={`mt-1 ${isLate ? "text-fault" : "text-soft"}`}>
          {last
            ? t("account:leaving.last_saved_day_and_read", {
                day: day(last.at.slice(0, 10)),
                bytes: (last.bytes / 1e6).toFixed(1),
              })
            : t("account:leaving.nothing_could_be_saved_yet")}
          {isLate && t("account:leaving.whoever_runs_this_server_finds")}
        </p>
      )}
    </section>
  );
}

/** A backup a night: older than this, and something is wrong. */
const LATE_DAYS = 2;

const LINK = "rounded border border-line bg-raised px-3 py-1 leading-6 hover:border-ink";

const SURE = z.object({
  password: z.string().min(1, { error: () => t("components:form_values.this_is_needed") }),
});
type Sure = z.infer<typeof SURE>;

interface RemovalProps {
  what: "/api/me/remove" | "/api/me/workspace/remove";
  label: string;
  /** What the last button says, as plainly as can be. */
  sure: string;
}

function Removal({ what, label, sure }: RemovalProps) {
  const [asked, setAsked] = useState(false);
  const { register, handleSubmit, setError, formState } = useForm<Sure>({
    resolver: zodResolver(SURE),
    defaultValues: { password: "" },
  });
  const { errors, isSubmitting } = formState;
  if (!asked) {
    return (
      <p className="mt-3">
        <Button onClick={() => setAsked(true)}>{label} …</Button>
      </p>
    );
  }
  const remove = async (body: Sure) => {
    const answer = await api.POST(what, { body }).catch(() => null);
    if (answer?.response.ok) {
      localStorage.clear();
      window.location.assign("/login");
      return;
    }
    setError("password", {
      message: answer
        ? (faultsOf(answer.error, answer.response.status)[0] ?? "")
        : t("account:leaving.the_server_does_not_answer"),
    });
  };
  return (
    <form
      noValidate
      onSubmit={(event) => void handleSubmit(remove)(event)}
      aria-label={label}
      className="mt-3 rounded border border-fault p-3"
    >
      <Field
        label={t("account:leaving.your_password")}
        type="password"
        autoComplete="current-password"
        fault={errors.password?.message}
        {...register("password")}
      />
      <p className="mt-3 flex flex-wrap gap-2">
        <Button onClick={() => setAsked(false)}>{t("account:leaving.stay")}</Button>
        <Button type="submit" disabled={isSubmitting} className="border-fault text-fault">
          {sure}
        </Button>
      </p>
    </form>
  );
}
