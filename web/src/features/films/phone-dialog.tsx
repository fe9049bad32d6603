import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";

import { api, given } from "../../api/client";
import type { components } from "../../api/schema";
import { Button } from "../../components/button";
import { Fault, Wait } from "../../components/states";
import { shortClock } from "../../domain/times";
import { t } from "../../words";

type PhoneOut = components["schemas"]["PhoneOut"];

/** How a phone on the same network comes in: an address as a picture, with a code for two minutes. */
export function PhoneDialog() {
  const [open, setOpen] = useState(false);
  const phone = useQuery({
    queryKey: ["phone"],
    enabled: open,
    queryFn: async () => given(await api.GET("/api/phone")),
  });
  return (
    // A modal one would write a style into the page, which the content security policy forbids.
    <Dialog.Root modal={false} open={open} onOpenChange={setOpen}>
      <Dialog.Trigger asChild>
        {/* Whoever holds one has brought it. */}
        <Button className="max-md:hidden">{t("films:phone_dialog.bring_your_phone")}</Button>
      </Dialog.Trigger>
      <Dialog.Portal>
        <div aria-hidden className="fixed inset-0 z-30 bg-ink/25" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-16 left-1/2 z-40 max-h-[calc(100vh-5rem)] w-[34rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 overflow-y-auto rounded border border-ink bg-raised p-6"
        >
          <Dialog.Title className="text-[18px] font-semibold">
            {t("films:phone_dialog.bring_your_phone")}
          </Dialog.Title>
          {phone.error ? (
            <Fault error={phone.error} />
          ) : !phone.data ? (
            <Wait>{t("films:phone_dialog.looking_for_the_network")}</Wait>
          ) : phone.data.url === "" ? (
            <NotServed />
          ) : (
            <Code phone={phone.data} />
          )}
          <div className="flex justify-end pt-4">
            <Dialog.Close asChild>
              <Button>{t("films:phone_dialog.close")}</Button>
            </Dialog.Close>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function NotServed() {
  return (
    <>
      <p className="mt-2">{t("films:phone_dialog.on_this_computer_only")}</p>
      <pre className="num mt-2 rounded bg-hair px-3 py-2">{t("films:phone_dialog.make_lan")}</pre>
      <p className="mt-2 text-soft">{t("films:phone_dialog.or_in_an_installed_frequens")}</p>
    </>
  );
}

function Code({ phone }: { phone: PhoneOut }) {
  const made = useQuery({
    queryKey: ["phone", "code"],
    // Asked for anew it is another one, and the one on the screen is none any more.
    staleTime: Infinity,
    gcTime: 0,
    queryFn: async () => given(await api.POST("/api/phone/code")),
  });
  const left = useSecondsUntil(made.data?.expires_at);
  if (made.error) return <Fault error={made.error} />;
  if (!made.data) return <Wait>{t("films:phone_dialog.making_a_code")}</Wait>;
  const { code, qr_svg } = made.data;
  const picture = `data:image/svg+xml;utf8,${encodeURIComponent(qr_svg)}`;
  return (
    <>
      <div className="mt-3 grid grid-cols-[11rem_1fr] items-center gap-5 max-md:grid-cols-1">
        <img
          src={picture}
          alt={t("films:phone_dialog.the_address_as_a_picture")}
          className={`w-44 rounded ${left > 0 ? "" : "opacity-15"}`}
        />
        <div>
          <p className="text-soft">{t("films:phone_dialog.point_its_camera_here")}</p>
          <p className="mt-1 break-all">{`${phone.url}/phone`}</p>
          {left > 0 ? (
            <>
              <p className="num mt-2 text-[30px] tracking-widest" data-code={code}>
                {code.slice(0, 4)} {code.slice(4)}
              </p>
              <p className="text-[13px] text-soft">
                {t("films:phone_dialog.holds_once_for", { left: shortClock(left) })}
              </p>
            </>
          ) : (
            <p className="mt-2">
              <Button look="main" onClick={() => void made.refetch()}>
                {t("films:phone_dialog.a_new_code")}
              </Button>
            </p>
          )}
        </div>
      </div>
      <h3 className="mt-5 font-semibold">{t("films:phone_dialog.its_browser_will_warn")}</h3>
      <p className="mt-1 text-[13.5px]">{t("films:phone_dialog.what_the_warning_means")}</p>
      {phone.has_certificate && (
        <p className="mt-2 text-[13.5px]">
          {t("films:phone_dialog.so_that_it_never_warns_again")}{" "}
          <span className="break-all">{`${phone.url}/lan/certificate.crt`}</span>.{" "}
          {t("films:phone_dialog.where_it_is_installed")}
        </p>
      )}
    </>
  );
}

/** Whole seconds until an instant, counted down; 0 once it has passed. */
function useSecondsUntil(instant: string | undefined): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = window.setInterval(() => setNow(Date.now()), 500);
    return () => window.clearInterval(timer);
  }, []);
  return instant ? Math.max(0, Math.ceil((Date.parse(instant) - now) / 1000)) : 0;
}
