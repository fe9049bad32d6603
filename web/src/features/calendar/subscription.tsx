import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api } from "../../api/client";
import { Button } from "../../components/button";
import { useNotice } from "../../components/notice";
import { day } from "../../domain/words";
import { t } from "../../words";

/** A private address for a calendar program: made, shown once, and taken back. */
export function Subscription({ since }: { since: string | null }) {
  const client = useQueryClient();
  const tell = useNotice();
  const [url, setUrl] = useState<string | null>(null);
  const [isBusy, setIsBusy] = useState(false);
  const ask = async (asked: () => Promise<string | null | undefined>) => {
    setIsBusy(true);
    const made = await asked().catch(() => undefined);
    setIsBusy(false);
    if (made === undefined) tell(t("calendar:subscription.the_server_does_not_answer"));
    else {
      setUrl(made);
      void client.invalidateQueries({ queryKey: ["calendar"] });
    }
  };
  const make = async () => (await api.POST("/api/calendar/address")).data?.url;
  const revoke = async () =>
    (await api.DELETE("/api/calendar/address")).response.ok ? null : undefined;
  return (
    <section aria-labelledby="subscription" className="mt-6 border-t border-ink pt-3">
      <h2 id="subscription" className="text-[16px] font-semibold">
        {t("calendar:subscription.in_your_own_calendar")}
      </h2>
      <p className="mt-1 text-[13.5px] text-soft">
        {t("calendar:subscription.whoever_has_the_address")}
      </p>
      {url && (
        <div role="status" className="mt-2">
          <input
            readOnly
            aria-label={t("calendar:subscription.your_address")}
            value={url}
            onFocus={(event) => event.target.select()}
            className="h-8 w-full rounded border border-line bg-paper px-2 text-[12.5px]"
          />
          <p className="mt-1 flex flex-wrap items-center gap-x-3 text-[13.5px]">
            <Button
              className="h-7"
              onClick={() => {
                void navigator.clipboard
                  .writeText(url)
                  .then(() => tell(t("calendar:subscription.copied")))
                  .catch(() => tell(t("calendar:subscription.copy_it_by_hand")));
              }}
            >
              {t("calendar:subscription.copy")}
            </Button>
            <a className="underline underline-offset-3" href={url.replace(/^https?:/, "webcal:")}>
              {t("calendar:subscription.open_in_a_calendar")}
            </a>
          </p>
          <p className="mt-1 text-[13.5px]">{t("calendar:subscription.shown_only_now")}</p>
        </div>
      )}
      <p className="mt-2 flex flex-wrap items-center gap-2">
        <Button disabled={isBusy} onClick={() => void ask(make)}>
          {since === null
            ? t("calendar:subscription.make_an_address")
            : t("calendar:subscription.make_a_new_one")}
        </Button>
        {since !== null && (
          <Button look="quiet" disabled={isBusy} onClick={() => void ask(revoke)}>
            {t("calendar:subscription.take_it_back")}
          </Button>
        )}
      </p>
      {since !== null && !url && (
        <p className="mt-1 text-[13.5px] text-soft">
          {t("calendar:subscription.one_was_made", { day: day(since.slice(0, 10)) })}
        </p>
      )}
    </section>
  );
}
