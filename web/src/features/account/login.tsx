import { zodResolver } from "@hookform/resolvers/zod";
import { useEffect } from "react";
import { useForm } from "react-hook-form";
import { Link } from "react-router";
import { z } from "zod";

import { login } from "../../api/account";
import { useIsNew } from "../../api/queries";
import { Button } from "../../components/button";
import { Field } from "../../components/field";
import { neededText } from "../../components/form-values";
import { BehaviourStep, HouseMark, MarkerRing, RewardSeed } from "../../components/glyphs";
import { Trans, t } from "../../words";

const ENTRY = z.object({
  username: neededText,
  password: z.string().min(1, { error: () => t("components:form_values.this_is_needed") }),
});
type Entry = z.infer<typeof ENTRY>;

/** The way in. */
export function Login() {
  const { register, handleSubmit, setError, formState } = useForm<Entry>({
    resolver: zodResolver(ENTRY),
    defaultValues: { username: "", password: "" },
  });
  const { errors, isSubmitting } = formState;
  const isNew = useIsNew();
  useEffect(() => {
    document.title = t("account:login.log_in_frequens");
  }, []);

  const enter = async ({ username, password }: Entry) => {
    const said = await login(username, password).catch(() =>
      t("account:login.the_server_does_not_answer"),
    );
    if (said === null) window.location.assign(nextPage());
    else setError("root", { message: said });
  };

  return (
    <main className="mx-auto grid min-h-full w-full max-w-[1000px] grid-cols-[1.2fr_1fr] items-center gap-20 px-8 max-md:grid-cols-1 max-md:gap-8 max-md:py-10">
      <section>
        <p className="flex items-center gap-3 text-[18px] font-semibold">
          <HouseMark /> {t("common:frequens")}
        </p>
        <h1 className="mt-6 max-w-[16ch] text-[38px] leading-[1.12]">
          {t("account:login.see_the_frame_your_marker")}
        </h1>
        <OneRep />
        <p className="max-w-[44ch] text-soft">{t("account:login.film_a_session_show_where")}</p>
      </section>
      <form
        noValidate
        onSubmit={(event) => void handleSubmit(enter)(event)}
        aria-label={t("account:login.log_in")}
        className="space-y-4"
      >
        <Field
          label={t("account:login.name")}
          autoComplete="username"
          fault={errors.username?.message}
          {...register("username")}
        />
        <Field
          label={t("account:login.password")}
          type="password"
          autoComplete="current-password"
          fault={errors.password?.message}
          {...register("password")}
        />
        {errors.root && (
          <p role="alert" className="text-fault">
            {errors.root.message}
          </p>
        )}
        <Button look="main" type="submit" disabled={isSubmitting} className="px-6 py-1.5">
          {t("account:login.log_in")}
        </Button>
        {isNew.data && (
          <p>
            <Trans
              i18nKey="account:login.nobody_has_an_account_here"
              components={{ go: <Link className="underline underline-offset-3" to="/first" /> }}
            />
          </p>
        )}
      </form>
    </main>
  );
}

/** Only a page of our own may follow. */
function nextPage(): string {
  const next = new URLSearchParams(window.location.search).get("next") ?? "";
  try {
    // Read as the browser will read it: it leaves tabs and line ends out before it looks.
    const page = new URL(next, window.location.origin);
    return page.origin === window.location.origin ? page.href : "/";
  } catch {
    return "/";
  }
}

/** One rep on its line: the behaviour, the marker on it, the reward after. */
function OneRep() {
  return (
    <svg viewBox="0 0 420 56" className="my-7 w-full max-w-[420px]" aria-hidden>
      <path d="M0 44H420" stroke="var(--line)" />
      {Array.from({ length: 29 }, (_, i) => (
        <path key={i} d={`M${i * 15} 44v${i % 5 ? 3 : 6}`} stroke="var(--line)" />
      ))}
      <g transform="translate(0 6) scale(2)">
        <BehaviourStep from={36} to={82} y={14.5} />
        <MarkerRing x={52} y={11} />
        <RewardSeed x={128} y={13} />
      </g>
    </svg>
  );
}
