import { useQuery } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";

import { api, faultsOf, given } from "../../api/client";
import type { components } from "../../api/schema";
import { Button } from "../../components/button";
import { day } from "../../domain/words";
import { BringBack } from "./bring-back";

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
          Everything as one file
        </h2>
        <p className="mt-1 text-soft">
          All of {name} in open formats: animals, plans, sessions with every mark and note. People
          can be seen and heard in films: keep the file where only those may look who may.
        </p>
        <p className="mt-3 flex flex-wrap gap-2">
          <a className={LINK} href="/api/me/workspace.zip?films=true">
            With the films
          </a>
          <a className={LINK} href="/api/me/workspace.zip?films=false">
            Without the films
          </a>
        </p>
      </section>
      <BringBack name={name} isEmpty={workspace.data.is_empty} />
      <Backups backups={workspace.data.backups} last={workspace.data.last_backup} />
      <section className="mt-10 border-t border-line pt-6" aria-labelledby="go">
        <h2 id="go" className="text-[18px] font-semibold">
          Leave for good
        </h2>
        <p className="mt-1 text-soft">
          What is removed here is gone from the disk and cannot be had back.
          {isAlone
            ? ` You are the only trainer of ${name}: your account takes it along.`
            : ` ${trainers.join(" and ")} work in ${name}; without you it stays for the others, and nobody is named where your name stood.`}
        </p>
        <Removal
          what="/api/me/remove"
          label="Remove my account"
          sure={isAlone ? `Remove my account and all of ${name}` : "Remove my account"}
        />
        {!isAlone && (
          <Removal
            what="/api/me/workspace/remove"
            label={`Remove ${name}`}
            sure={`Remove all of ${name} for everybody`}
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
        Backups
      </h2>
      {!backups ? (
        <p className="mt-1 text-soft">
          This server saves nothing by itself. Whoever runs it can have it save everything but the
          films every night.
        </p>
      ) : (
        <p className={`mt-1 ${isLate ? "text-fault" : "text-soft"}`}>
          {last
            ? `Last saved ${day(last.at.slice(0, 10))} and read back: ${(last.bytes / 1e6).toFixed(1)} MB, without the films.`
            : "Nothing could be saved yet."}
          {isLate && ` Whoever runs this server finds the reason in its log.`}
        </p>
      )}
    </section>
  );
}

/** A backup a night: older than this, and something is wrong. */
const LATE_DAYS = 2;

const LINK = "rounded border border-line bg-raised px-3 py-1 leading-6 hover:border-ink";

interface RemovalProps {
  what: "/api/me/remove" | "/api/me/workspace/remove";
  label: string;
  /** What the last button says, as plainly as can be. */
  sure: string;
}

function Removal({ what, label, sure }: RemovalProps) {
  const [asked, setAsked] = useState(false);
  const [fault, setFault] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  if (!asked) {
    return (
      <p className="mt-3">
        <Button onClick={() => setAsked(true)}>{label} …</Button>
      </p>
    );
  }
  const remove = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const password = new FormData(event.currentTarget).get("password");
    setBusy(true);
    const answer = await api
      .POST(what, { body: { password: typeof password === "string" ? password : "" } })
      .catch(() => null);
    setBusy(false);
    if (answer?.response.ok) {
      localStorage.clear();
      window.location.assign("/login");
    } else {
      setFault(
        answer
          ? (faultsOf(answer.error, answer.response.status)[0] ?? "")
          : "The server does not answer. Nothing was removed.",
      );
    }
  };
  return (
    <form
      onSubmit={(event) => void remove(event)}
      aria-label={label}
      className="mt-3 rounded border border-fault p-3"
    >
      <label className="block">
        Your password
        <input
          name="password"
          type="password"
          autoComplete="current-password"
          required
          className="mt-1 block w-full rounded border border-line bg-raised px-3 py-2"
        />
      </label>
      {fault && (
        <p role="alert" className="mt-2 text-fault">
          {fault}
        </p>
      )}
      <p className="mt-3 flex flex-wrap gap-2">
        <Button onClick={() => setAsked(false)}>Stay</Button>
        <Button type="submit" disabled={busy} className="border-fault text-fault">
          {sure}
        </Button>
      </p>
    </form>
  );
}
