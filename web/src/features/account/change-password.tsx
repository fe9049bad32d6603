import { zodResolver } from "@hookform/resolvers/zod";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { z } from "zod";

import { changePassword } from "../../api/account";
import { Button } from "../../components/button";
import { Field } from "../../components/field";

const CHANGE = z
  .object({
    current: z.string().min(1, "Your present password."),
    next: z.string().min(8, "At least eight characters."),
    again: z.string(),
  })
  .refine(({ next, again }) => next === again, {
    path: ["again"],
    error: "The two new passwords differ.",
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
    const fault = await changePassword(current, next).catch(
      () => "The server does not answer. Nothing was changed.",
    );
    if (fault !== null) return setError("root", { message: fault });
    reset();
    setIsDone(true);
  };
  return (
    <form
      aria-label="Change password"
      noValidate
      onSubmit={(event) => void handleSubmit(change)(event)}
      className="space-y-4"
    >
      <Field
        label="Present password"
        type="password"
        autoComplete="current-password"
        fault={errors.current?.message}
        {...register("current")}
      />
      <Field
        label="New password"
        type="password"
        autoComplete="new-password"
        fault={errors.next?.message}
        {...register("next")}
      />
      <Field
        label="New password, once more"
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
          The password is changed.
        </p>
      )}
      <Button look="main" type="submit" disabled={isSubmitting}>
        Change it
      </Button>
    </form>
  );
}
