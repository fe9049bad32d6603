import type { UseFormRegisterReturn } from "react-hook-form";
import { z } from "zod";

import { Field } from "../../components/field";
import { t } from "../../words";

/** What a new account's name and password must be, before the server says the rest. */
export const NEW_ACCOUNT = {
  username: z
    .string()
    .trim()
    .min(1, t("account:first_account.by_which_name_do_you"))
    .max(150, t("account:first_account.that_is_too_long")),
  password: z.string().min(8, t("account:first_account.at_least_eight_characters")),
};

interface NameAndPasswordProps {
  name: UseFormRegisterReturn;
  password: UseFormRegisterReturn;
  faults: { name: string | undefined; password: string | undefined };
}

/** By which name and with which password somebody new logs in. */
export function NameAndPassword({ name, password, faults }: NameAndPasswordProps) {
  return (
    <>
      <Field
        label={t("account:first_account.your_name")}
        hint={t("account:first_account.letters_digits_and_you_log")}
        autoComplete="username"
        fault={faults.name}
        {...name}
      />
      <Field
        label={t("account:first_account.password")}
        type="password"
        hint={t("account:first_account.at_least_eight_characters_and")}
        autoComplete="new-password"
        fault={faults.password}
        {...password}
      />
    </>
  );
}
