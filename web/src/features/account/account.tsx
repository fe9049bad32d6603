import { useMe } from "../../api/queries";
import { Shell } from "../../components/shell";
import { ChangePassword } from "./change-password";
import { ChooseLanguage } from "./choose-language";
import { Leaving } from "./leaving";
import { t } from "../../words";

/** The account: a new password, everything to take along, and the way out. */
export function Account() {
  const me = useMe();
  return (
    <Shell title={t("account:account.your_account")}>
      <main className="mx-auto w-full max-w-md px-[18px] pt-10 pb-16">
        <h1 className="mb-6 text-[24px]">{t("account:account.your_account")}</h1>
        <h2 className="mb-3 text-[18px] font-semibold">{t("account:account.change_password")}</h2>
        <ChangePassword />
        <ChooseLanguage />
        <Leaving />
        {me.data && (
          <p className="num mt-10 text-[13px] text-soft">
            {t("account:account.frequens_version", { version: me.data.version })}
          </p>
        )}
      </main>
    </Shell>
  );
}
