import { useState, type FormEvent } from "react";

import { changePassword } from "../../api/account";
import { useMe } from "../../api/queries";
import { Button } from "../../components/button";
import { Shell } from "../../components/shell";
import { Leaving } from "./leaving";

const FIELD = "mt-1 block w-full rounded border border-line bg-raised px-3 py-2";

/** The account: a new password, everything to take along, and the way out. */
export function Account() {
  const me = useMe();
  const [said, setSaid] = useState<{ good: boolean; text: string } | null>(null);

  const change = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const element = event.currentTarget;
    const form = new FormData(element);
    const [current, next, again] = ["current", "next", "again"].map((name) => {
      const value = form.get(name);
      return typeof value === "string" ? value : "";
    });
    if (next !== again) return setSaid({ good: false, text: "The two new passwords differ." });
    const fault = await changePassword(current ?? "", next ?? "").catch(
      () => "The server does not answer. Nothing was changed.",
    );
    if (fault === null) element.reset();
    setSaid(
      fault === null
        ? { good: true, text: "The password is changed." }
        : { good: false, text: fault },
    );
  };

  return (
    <Shell title="Your account">
      <main className="mx-auto w-full max-w-md px-[18px] pt-10 pb-16">
        <h1 className="mb-6 text-[24px]">Your account</h1>
        <h2 className="mb-3 text-[18px] font-semibold">Change password</h2>
        <form onSubmit={(event) => void change(event)} className="space-y-4">
          <label className="block">
            Present password
            <input
              name="current"
              type="password"
              autoComplete="current-password"
              required
              className={FIELD}
            />
          </label>
          <label className="block">
            New password
            <input
              name="next"
              type="password"
              autoComplete="new-password"
              required
              className={FIELD}
            />
          </label>
          <label className="block">
            New password, once more
            <input
              name="again"
              type="password"
              autoComplete="new-password"
              required
              className={FIELD}
            />
          </label>
          {said && (
            <p
              role={said.good ? "status" : "alert"}
              className={said.good ? "text-reward" : "text-fault"}
            >
              {said.text}
            </p>
          )}
          <Button look="main" type="submit">
            Change it
          </Button>
        </form>
        <Leaving />
        {me.data && <p className="num mt-10 text-[13px] text-soft">Frequens {me.data.version}</p>}
      </main>
    </Shell>
  );
}
