import { zodResolver } from "@hookform/resolvers/zod";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { z } from "zod";

import { changePassword } from "../../api/account";
import { Button } from "../../components/button";
import { Field } from "../../components/field";
import { t } from "../../words";

const CHANGE = z
  .object({
    current: z.string().min(1, t("account:change_password.your_present_password")),
    next: z.string().min(8, t("account:change_password.at_least_eight_characters")),
    again: z.string(),
  })
  .refine(({ next, again }) => next === again, {
    path: ["again"],
    error: t("account:change_password.the_two_new_passwords_differ"),
  });
type Change = z.infer<typeof CHANGE>;

/** A new password for the present one. */
export function ChangePassword() {
  const [isDone, setIsDone] = useState(false);
  const { register, handleSubmit, setError, reset, formState } = useForm<Change>({
    resolver: zodResolver(CHANGE),
    defaultValues: { current: "", next: "", again: "" },
  });
  const { errors, isSubmitting } = formState;
  const change = async ({ current, next }: Change) => {
    setIsDone(false);
    const fault = await changePassword(current, next).catch(() =>
      t("account:change_password.the_server_does_not_answer"),
    );
    if (fault !== null) return setError("root", { message: fault });
    reset();
    setIsDone(true);
  };
  return (
    <form
      aria-label={t("account:change_password.change_password")}
      noValidate
      onSubmit={(event) => void handleSubmit(change)(event)}
      className="space-y-4"
    >
      <Field
        label={t("account:change_password.present_password")}
        type="password"
        autoComplete="current-password"
        fault={errors.current?.message}
        {...register("current")}
      />
      <Field
        label={t("account:change_password.new_password")}
        type="password"
        autoComplete="new-password"
        fault={errors.next?.message}
        {...register("next")}
      />
      <Field
        label={t("account:change_password.new_password_once_more")}
        type="password"
        autoComplete="new-password"
        fault={errors.again?.message}
        {...register("again")}
      />
      {errors.root && (
        <p role="alert" className="text-fault">
          {errors.root.message}
        </p>
      )}
      {isDone && (
        <p role="status" className="text-reward">
          {t("account:change_password.the_password_is_changed")}
        </p>
      )}
      <Button look="main" type="submit" disabled={isSubmitting}>
        {t("account:change_password.change_it")}
      </Button>
    </form>
  );
}
