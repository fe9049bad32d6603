import { useEffect, useRef, useState } from "react";

import { api, whyNot } from "../../api/client";
import { Button } from "../../components/button";
import { Field } from "../../components/field";
import { HouseMark } from "../../components/glyphs";
import { t } from "../../words";

/** The phone's way in: the code on the large screen, which its camera may have read already. */
export function PhoneEntry() {
  const [code, setCode] = useState(() => decodeURIComponent(location.hash.slice(1)));
  const [fault, setFault] = useState<string>();
  const [isBusy, setIsBusy] = useState(false);
  const read = useRef(code);

  const enter = async (wanted: string) => {
    if (wanted.trim() === "") {
      setFault(t("account:phone_entry.the_code_stands_on"));
      return;
    }
    setIsBusy(true);
    setFault(undefined);
    const answer = await api.POST("/api/phone/enter", { body: { code: wanted } }).catch(() => null);
    if (answer?.data) return window.location.replace("/yard");
    setIsBusy(false);
    setFault(whyNot(answer));
  };
  useEffect(() => {
    document.title = t("account:phone_entry.your_phone_frequens");
    // Only once: the code is spent with the first try.
    const wanted = read.current;
    read.current = "";
    if (!wanted) return;
    history.replaceState(null, "", location.pathname);
    void enter(wanted);
  }, []);

  return (
    <main className="mx-auto w-full max-w-md px-[18px] pt-14 pb-16">
      <p className="flex items-center gap-3 text-[18px] font-semibold">
        <HouseMark /> {t("common:frequens")}
      </p>
      <h1 className="mt-6 text-[26px] leading-tight">{t("account:phone_entry.your_phone")}</h1>
      <p className="mt-2 text-soft">{t("account:phone_entry.on_the_large_screen")}</p>
      <form
        noValidate
        className="mt-5 space-y-4"
        onSubmit={(event) => {
          event.preventDefault();
          void enter(code);
        }}
      >
        <Field
          label={t("account:phone_entry.code")}
          fault={fault}
          value={code}
          maxLength={40}
          autoCapitalize="characters"
          autoComplete="one-time-code"
          onChange={(event) => setCode(event.target.value)}
        />
        <Button look="main" type="submit" disabled={isBusy} className="w-full py-2.5 text-[17px]">
          {isBusy ? t("account:phone_entry.coming_in") : t("account:phone_entry.come_in")}
        </Button>
      </form>
    </main>
  );
}
