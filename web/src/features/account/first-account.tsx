import { zodResolver } from "@hookform/resolvers/zod";
import { useEffect } from "react";
import { useForm } from "react-hook-form";
import { Link } from "react-router";
import { z } from "zod";

import { api } from "../../api/client";
import { useIsNew } from "../../api/queries";
import { Button } from "../../components/button";
import { Field } from "../../components/field";
import { HouseMark } from "../../components/glyphs";
import { Fault, Wait } from "../../components/states";
import { NameAndPassword, NEW_ACCOUNT } from "./name-and-password";
import { t } from "../../words";

const FIRST = z.object({
  code: z.string().trim().min(1, t("account:first_account.the_code_stands_in_the")),
  workspace: z
    .string()
    .trim()
    .min(1, t("account:first_account.give_your_place_a_name"))
    .max(200, t("account:first_account.that_is_too_long")),
  ...NEW_ACCOUNT,
});
type First = z.infer<typeof FIRST>;
const FIELDS = Object.keys(FIRST.shape) as (keyof First)[];

/** The first visit to a new installation: a place and whoever works in it. */
export function FirstAccount() {
  const isNew = useIsNew();
  useEffect(() => {
    document.title = t("account:first_account.the_first_account_frequens");
  }, []);
  return (
    <main className="mx-auto w-full max-w-md px-[18px] pt-14 pb-16">
      <p className="flex items-center gap-3 text-[18px] font-semibold">
        <HouseMark /> {t("common:frequens")}
      </p>
      {isNew.error ? (
        <Fault error={isNew.error} />
      ) : isNew.isPending ? (
        <Wait>{t("account:first_account.opening")}</Wait>
      ) : isNew.data ? (
        <Form />
      ) : (
        <>
          <h1 className="mt-6 text-[26px] leading-tight">
            {t("account:first_account.somebody_was_here_first")}
          </h1>
          <p className="mt-2">{t("account:first_account.this_frequens_has_its_first")}</p>
          <p className="mt-4">
            <Link className="underline underline-offset-3" to="/login">
              {t("account:first_account.log_in")}
            </Link>
          </p>
        </>
      )}
    </main>
  );
}

function Form() {
  const code = new URLSearchParams(location.search).get("code") ?? "";
  const { register, handleSubmit, setError, formState } = useForm<First>({
    resolver: zodResolver(FIRST),
    defaultValues: { code, workspace: "", username: "", password: "" },
  });
  const { errors, isSubmitting } = formState;
  const make = async (first: First) => {
    const answer = await api.POST("/api/first", { body: first }).catch(() => null);
    if (answer?.response.ok) return window.location.assign("/");
    const said = (answer?.error as { fields?: Record<string, string> } | undefined)?.fields ?? {};
    const known = FIELDS.filter((name) => said[name] !== undefined);
    for (const name of known) setError(name, { message: said[name] ?? "" });
    if (known.length === 0) {
      setError("root", { message: t("account:first_account.the_server_does_not_answer") });
    }
  };
  return (
    <>
      <h1 className="mt-6 text-[26px] leading-tight">
        {t("account:first_account.the_first_account")}
      </h1>
      <p className="mt-2 text-soft">{t("account:first_account.your_films_and_marks_stay")}</p>
      <form
        aria-label={t("account:first_account.the_first_account")}
        noValidate
        onSubmit={(event) => void handleSubmit(make)(event)}
        className="mt-6 space-y-4"
      >
        <Field
          label={t("account:first_account.your_place")}
          hint={t("account:first_account.a_yard_a_club_a")}
          fault={errors.workspace?.message}
          {...register("workspace")}
        />
        <NameAndPassword
          name={register("username")}
          password={register("password")}
          faults={{ name: errors.username?.message, password: errors.password?.message }}
        />
        <Field
          label={t("account:first_account.code")}
          hint={t("account:first_account.it_stands_in_the_window")}
          autoComplete="off"
          fault={errors.code?.message}
          {...register("code")}
        />
        {errors.root && (
          <p role="alert" className="text-fault">
            {errors.root.message}
          </p>
        )}
        <Button look="main" type="submit" disabled={isSubmitting} className="px-6 py-1.5">
          {t("account:first_account.make_it_and_begin")}
        </Button>
      </form>
    </>
  );
}
