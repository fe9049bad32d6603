import { useEffect, useState } from "react";
import { Link } from "react-router";

import { useMe } from "../../api/queries";
import {
  ledSessions,
  listenLed,
  sendLed,
  throwAwayLed,
  type LedSession,
} from "../../domain/led-sessions";
import { t } from "../../words";

/** Sessions that were led here and are not on the large screen yet; they go as soon as it is there. */
export function WaitingHere() {
  const [sessions, setSessions] = useState(ledSessions);
  const me = useMe();
  const user = me.data?.username;
  useEffect(() => listenLed(() => setSessions(ledSessions())), []);
  useEffect(() => {
    let isBusy = false;
    const send = async () => {
      if (isBusy) return;
      isBusy = true;
      try {
        for (const session of ledSessions()) {
          if (session.is_ended && session.user === user) await sendLed(session);
        }
      } finally {
        isBusy = false;
      }
    };
    const again = () => void send();
    window.addEventListener("online", again);
    const timer = window.setInterval(again, 15_000);
    again();
    return () => {
      window.removeEventListener("online", again);
      window.clearInterval(timer);
    };
  }, [user]);
  if (sessions.length === 0) return null;
  return (
    <section aria-labelledby="waits" className="mt-6 border-t border-ink pt-3">
      <h2 id="waits" className="text-[18px] font-semibold">
        {t("yard:yard_page.waits_on_this_phone")}
      </h2>
      <ul>
        {sessions.map((session) => (
          <li key={session.id} className="border-b border-line py-2" data-led={session.id}>
            <p className="text-[17px]">
              {t("yard:yard_page.led_on", {
                learner: session.kit.learner,
                behaviour: session.kit.behaviour,
                at: new Date(session.began_at).toLocaleString(),
              })}
            </p>
            <SessionState session={session} user={user} />
          </li>
        ))}
      </ul>
    </section>
  );
}

function SessionState({ session, user }: { session: LedSession; user: string | undefined }) {
  if (session.fault !== null) {
    return (
      <p role="alert" className="text-fault">
        {t("yard:lead_page.not_taken", { fault: session.fault })}{" "}
        <button type="button" className="underline" onClick={() => throwAwayLed(session.id)}>
          {t("yard:yard_page.throw_away")}
        </button>
      </p>
    );
  }
  if (!session.is_ended) {
    return (
      <p className="text-[13.5px] text-soft">
        {t("yard:yard_page.goes_on")}{" "}
        <Link className="text-ink underline" to={`/yard/led/${session.id}`}>
          {t("yard:yard_page.go_on")}
        </Link>
      </p>
    );
  }
  return (
    <p className="text-[13.5px] text-soft">
      {user !== undefined && session.user !== user
        ? t("yard:yard_page.of_another", { user: session.user })
        : t("yard:yard_page.goes_as_soon")}
    </p>
  );
}
