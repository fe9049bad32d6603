import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";

import { faultsOf } from "../../api/client";
import type { components } from "../../api/schema";
import { sendFile, type Sending } from "../../api/send-file";
import { Button } from "../../components/button";
import { Progress } from "../../components/progress";
import { counted, percent } from "../../domain/times";
import { Trans, t } from "../../words";

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
          ? t("account:bring_back.the_connection_broke_while_sending")
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
        {t("account:bring_back.bring_everything_back")}
      </h2>
      <p className="mt-1 text-soft">{t("account:bring_back.name_is_empty_a_file", { name })}</p>
      <input
        ref={picker}
        type="file"
        hidden
        accept=".zip"
        aria-label={t("account:bring_back.the_file_to_bring_back")}
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
            {t("account:bring_back.leave_out_the_names_of")}
          </label>
          <p className="mt-3">
            <Button onClick={() => picker.current?.click()}>
              {t("account:bring_back.choose_the_file")}
            </Button>
          </p>
        </>
      ) : (
        <div className="mt-3 flex items-center gap-3">
          <Progress
            label={t("account:bring_back.sending_the_file")}
            share={share}
            className="flex-1"
          />
          <span className="num text-[13px] text-soft">
            {share < 1
              ? t("account:bring_back.sending_share", { share: percent(share) })
              : t("account:bring_back.reading_it")}
          </span>
          {share < 1 && (
            <Button look="quiet" onClick={stop}>
              {t("common:stop")}
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
        {t("account:bring_back.everything_is_back")}
      </h2>
      <p role="status" className="mt-1">
        <Trans
          i18nKey="account:bring_back.learners_behaviours_sessions_and_films"
          components={{ go: <Link className="underline underline-offset-3" to="/" /> }}
          values={{
            learners: counted(learners, "learner"),
            behaviours: counted(behaviours, "behaviour"),
            sessions: counted(sessions, "session"),
            films: counted(films, "film"),
          }}
        />
      </p>
    </section>
  );
}
