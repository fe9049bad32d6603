import { chooseLanguage, LANGUAGES, language, t } from "../../words";

/** The language of this browser. The page is loaded again in it. */
export function ChooseLanguage() {
  return (
    <section aria-labelledby="language" className="mt-10">
      <h2 id="language" className="mb-3 text-[18px] font-semibold">
        {t("account:choose_language.language")}
      </h2>
      <select
        aria-labelledby="language"
        value={language().code}
        onChange={(event) => {
          const chosen = LANGUAGES.find(({ code }) => code === event.target.value);
          if (chosen) chooseLanguage(chosen.code);
        }}
        className="h-9 rounded border border-line bg-raised px-2"
      >
        {LANGUAGES.map(({ code, name }) => (
          <option key={code} value={code} lang={code}>
            {name}
          </option>
        ))}
      </select>
      <p className="mt-2 text-[13px] text-soft">{t("account:choose_language.german_is_begun")}</p>
    </section>
  );
}
