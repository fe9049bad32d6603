import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";

import { faultsOf } from "../../api/client";
import type { components } from "../../api/schema";
import { sendFile, type Sending } from "../../api/send-file";
import { Button } from "../../components/button";
import { Progress } from "../../components/progress";
import { counted, percent } from "../../domain/times";

type Brought = components["schemas"]["BroughtOut"];

/** An archive of everything comes back into a workspace that has nothing in it yet. */
export function BringBack({ name, isEmpty }: { name: string; isEmpty: boolean }) {
  const client = useQueryClient();
  const picker = useRef<HTMLInputElement>(null);
  const sending = useRef<Sending>(null);
  const [share, setShare] = useState<number | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [brought, setBrought] = useState<Brought | null>(null);
  const [nameless, setNameless] = useState(false);

  const send = async (file: File) => {
    setFault(null);
    setShare(0);
    const address = `/api/me/workspace/bring_back?nameless=${nameless}`;
    sending.current = sendFile(address, file, setShare);
    const arrival = await sending.current.arrived;
    setShare(null);
    if (arrival?.status === 200) {
      setBrought(arrival.body as Brought);
      await client.invalidateQueries();
    } else {
      setFault(
        arrival === null
          ? "The connection broke while sending. Nothing came back; send it again."
          : (faultsOf(arrival.body, arrival.status)[0] ?? ""),
      );
    }
  };
  const stop = () => {
    sending.current?.stop();
    setShare(null);
  };

  if (brought) return <Done brought={brought} />;
  if (!isEmpty) return null;
  return (
    <section className="mt-10 border-t border-line pt-6" aria-labelledby="bring-back">
      <h2 id="bring-back" className="text-[18px] font-semibold">
        Bring everything back
      </h2>
      <p className="mt-1 text-soft">
        {name} is empty. A file that was taken along, here or elsewhere, comes back into it: every
        mark, note and plan as it was.
      </p>
      <input
        ref={picker}
        type="file"
        hidden
        accept=".zip"
        aria-label="The file to bring back"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) void send(file);
        }}
      />
      {share === null ? (
        <>
          <label className="mt-3 flex items-baseline gap-2">
            <input
              type="checkbox"
              checked={nameless}
              onChange={(event) => setNameless(event.target.checked)}
            />
            Leave out the names of people who have no account here
          </label>
          <p className="mt-3">
            <Button onClick={() => picker.current?.click()}>Choose the file</Button>
          </p>
        </>
      ) : (
        <div className="mt-3 flex items-center gap-3">
          <Progress label="Sending the file" share={share} className="flex-1" />
          <span className="num text-[13px] text-soft">
            {share < 1 ? `sending ${percent(share)}` : "reading it"}
          </span>
          {share < 1 && (
            <Button look="quiet" onClick={stop}>
              Stop
            </Button>
          )}
        </div>
      )}
      {fault && (
        <p role="alert" className="mt-3 text-fault">
          {fault}
        </p>
      )}
    </section>
  );
}

function Done({ brought }: { brought: Brought }) {
  const { learners, behaviours, sessions, films } = brought;
  return (
    <section className="mt-10 border-t border-line pt-6" aria-labelledby="bring-back">
      <h2 id="bring-back" className="text-[18px] font-semibold">
        Everything is back
      </h2>
      <p role="status" className="mt-1">
        {counted(learners, "learner")}, {counted(behaviours, "behaviour")},{" "}
        {counted(sessions, "session")} and {counted(films, "film")}.{" "}
        <Link className="underline underline-offset-3" to="/">
          Go on with today
        </Link>
      </p>
    </section>
  );
}
