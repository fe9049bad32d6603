import { useEffect, useState, type FormEvent } from "react";
import { Link } from "react-router";

import { login } from "../../api/account";
import { useIsNew } from "../../api/queries";
import { Button } from "../../components/button";
import { BehaviourStep, HouseMark, MarkerRing, RewardSeed } from "../../components/glyphs";

const FIELD = "mt-1 block w-full rounded border border-line bg-raised px-3 py-2";

/** The way in. */
export function Login() {
  const [fault, setFault] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const isNew = useIsNew();
  useEffect(() => {
    document.title = "Log in · Frequens";
  }, []);

  const enter = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    setBusy(true);
    const said = await login(text(form, "username"), text(form, "password")).catch(
      () => "The server does not answer. Try again in a moment.",
    );
    setBusy(false);
    setFault(said);
    if (said === null) window.location.assign(nextPage());
  };

  return (
    <main className="mx-auto grid min-h-full w-full max-w-[1000px] grid-cols-[1.2fr_1fr] items-center gap-20 px-8 max-md:grid-cols-1 max-md:gap-8 max-md:py-10">
      <section>
        <p className="flex items-center gap-3 text-[18px] font-semibold">
          <HouseMark /> Frequens
        </p>
        <h1 className="mt-6 max-w-[16ch] text-[38px] leading-[1.12]">
          See the frame your marker fell on.
        </h1>
        <OneRep />
        <p className="max-w-[44ch] text-soft">
          Film a session, show where the behaviour begins and where you marked it, and read how well
          they met: to the frame, and no surer than the film allows.
        </p>
      </section>
      <form onSubmit={(event) => void enter(event)} aria-label="Log in" className="space-y-4">
        <label className="block">
          Name
          <input name="username" autoComplete="username" required className={FIELD} />
        </label>
        <label className="block">
          Password
          <input
            name="password"
            type="password"
            autoComplete="current-password"
            required
            className={FIELD}
          />
        </label>
        {fault && (
          <p role="alert" className="text-fault">
            {fault}
          </p>
        )}
        <Button look="main" type="submit" disabled={busy} className="px-6 py-1.5">
          Log in
        </Button>
        {isNew.data && (
          <p>
            Nobody has an account here yet.{" "}
            <Link className="underline underline-offset-3" to="/first">
              Make the first one
            </Link>
          </p>
        )}
      </form>
    </main>
  );
}

function text(form: FormData, name: string): string {
  const value = form.get(name);
  return typeof value === "string" ? value : "";
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
