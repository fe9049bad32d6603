import { zodResolver } from "@hookform/resolvers/zod";
import { useEffect, useState } from "react";
import { useForm } from "react-hook-form";
import { z } from "zod";

import { api, whyNot } from "../../api/client";
import type { components } from "../../api/schema";
import { Button } from "../../components/button";
import { HouseMark } from "../../components/glyphs";
import { Wait } from "../../components/states";
import { NameAndPassword, NEW_ACCOUNT } from "./name-and-password";
import { t } from "../../words";

type Invitation = components["schemas"]["InvitationFor"];

const NEW = z.object(NEW_ACCOUNT);
type New = z.infer<typeof NEW>;

/** The way in for somebody who was invited: what it is for, then a name and a password. */
export function Invited() {
  const [code] = useState(() => decodeURIComponent(location.hash.slice(1)));
  const [invitation, setInvitation] = useState<Invitation>();
  const [fault, setFault] = useState<string>();
  useEffect(() => {
    document.title = t("account:invited.title");
    void api
      .POST("/api/invited", { body: { code } })
      .catch(() => null)
      .then((answer) => {
        if (answer?.data) setInvitation(answer.data);
        else setFault(whyNot(answer));
      });
  }, [code]);
  return (
    <main className="mx-auto w-full max-w-md px-[18px] pt-14 pb-16">
      <p className="flex items-center gap-3 text-[18px] font-semibold">
        <HouseMark /> {t("common:frequens")}
      </p>
      {fault ? (
        <p role="alert" className="mt-6 border-l-4 border-fault py-1 pl-4">
          {fault}
        </p>
      ) : invitation ? (
        <Form code={code} invitation={invitation} />
      ) : (
        <Wait>{t("account:first_account.opening")}</Wait>
      )}
    </main>
  );
}

function Form({ code, invitation }: { code: string; invitation: Invitation }) {
  const { register, handleSubmit, setError, formState } = useForm<New>({
    resolver: zodResolver(NEW),
    defaultValues: { username: "", password: "" },
  });
  const { errors, isSubmitting } = formState;
  const accept = async (account: New) => {
    const answer = await api
      .POST("/api/invited/accept", { body: { code, ...account } })
      .catch(() => null);
    if (answer?.data) return window.location.assign("/");
    const said = (answer?.error as { fields?: Record<string, string> } | undefined)?.fields ?? {};
    for (const name of ["username", "password"] as const) {
      if (said[name]) setError(name, { message: said[name] });
    }
    if (!said["username"] && !said["password"]) {
      setError("root", { message: said["code"] ?? whyNot(answer) });
    }
  };
  return (
    <>
      <h1 className="mt-6 text-[26px] leading-tight">
        {t("account:invited.come_into", { workspace: invitation.workspace })}
      </h1>
      <p className="mt-2 text-soft">
        {t("account:invited.as_role", {
          role: t(`account:people.role_${invitation.role}`),
          may: t(`account:people.may_${invitation.role}`),
        })}
      </p>
      <form
        noValidate
        aria-label={t("account:invited.your_account")}
        onSubmit={(event) => void handleSubmit(accept)(event)}
        className="mt-6 space-y-4"
      >
        <NameAndPassword
          name={register("username")}
          password={register("password")}
          faults={{ name: errors.username?.message, password: errors.password?.message }}
        />
        {errors.root && (
          <p role="alert" className="text-fault">
            {errors.root.message}
          </p>
        )}
        <Button look="main" type="submit" disabled={isSubmitting} className="px-6 py-1.5">
          {t("account:invited.come_in")}
        </Button>
      </form>
    </>
  );
}
