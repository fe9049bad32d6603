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

const FIRST = z.object({
  code: z.string().trim().min(1, "The code stands in the window where Frequens was started."),
  workspace: z.string().trim().min(1, "Give your place a name.").max(200, "That is too long."),
  username: z.string().trim().min(1, "By which name do you log in?").max(150, "That is too long."),
  password: z.string().min(8, "At least eight characters."),
});
type First = z.infer<typeof FIRST>;
const FIELDS = Object.keys(FIRST.shape) as (keyof First)[];

/** The first visit to a new installation: a place and whoever works in it. */
export function FirstAccount() {
  const isNew = useIsNew();
  useEffect(() => {
    document.title = "The first account · Frequens";
  }, []);
  return (
    <main className="mx-auto w-full max-w-md px-[18px] pt-14 pb-16">
      <p className="flex items-center gap-3 text-[18px] font-semibold">
        <HouseMark /> Frequens
      </p>
      {isNew.error ? (
        <Fault error={isNew.error} />
      ) : isNew.isPending ? (
        <Wait>Opening</Wait>
      ) : isNew.data ? (
        <Form />
      ) : (
        <>
          <h1 className="mt-6 text-[26px] leading-tight">Somebody was here first</h1>
          <p className="mt-2">
            This Frequens has its first account already. Whoever runs it makes further ones.
          </p>
          <p className="mt-4">
            <Link className="underline underline-offset-3" to="/login">
              Log in
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
      setError("root", { message: "The server does not answer. Nothing was made; try again." });
    }
  };
  return (
    <>
      <h1 className="mt-6 text-[26px] leading-tight">The first account</h1>
      <p className="mt-2 text-soft">
        Your films and marks stay on the machine this runs on. What you make here is the door to
        them.
      </p>
      <form
        aria-label="The first account"
        noValidate
        onSubmit={(event) => void handleSubmit(make)(event)}
        className="mt-6 space-y-4"
      >
        <Field
          label="Your place"
          hint="A yard, a club, a team: whoever works in it sees its films."
          fault={errors.workspace?.message}
          {...register("workspace")}
        />
        <Field
          label="Your name"
          hint="Letters, digits and @ . + - _ ; you log in with it."
          autoComplete="username"
          fault={errors.username?.message}
          {...register("username")}
        />
        <Field
          label="Password"
          type="password"
          hint="At least eight characters, and none of the usual ones."
          autoComplete="new-password"
          fault={errors.password?.message}
          {...register("password")}
        />
        <Field
          label="Code"
          hint="It stands in the window where Frequens was started, and shows that this is your machine."
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
          Make it and begin
        </Button>
      </form>
    </>
  );
}
