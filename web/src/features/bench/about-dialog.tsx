import { useForm } from "react-hook-form";

import type { SessionOut } from "../../api/client";
import { PaperDialog } from "../../components/paper-dialog";
import { Button } from "../../components/button";
import { FilmedLine } from "../../components/filmed-line";
import type { EditLog } from "../../domain/edit-log";
import { t } from "../../words";

const FIELD = "h-8 w-full rounded border border-line bg-paper px-2";

/** Who worked where and when: facts of the session, like its marks kept as edits. */
export function AboutDialog({
  session,
  log,
  onClose,
}: {
  session: SessionOut;
  log: EditLog;
  onClose: () => void;
}) {
  const facts = log.snapshot().folded.facts;
  const now = (key: string, before: string) => {
    const said = facts[key];
    return typeof said === "string" ? said : said === null ? "" : before;
  };
  const rows = [
    { key: "date", label: t("common:day"), type: "date", before: session.date ?? "" },
    { key: "time", label: t("bench:about_dialog.time"), type: "time", before: session.time },
    {
      key: "trainer",
      label: t("bench:about_dialog.trained_by"),
      type: "text",
      before: session.trainer,
    },
    {
      key: "handler",
      label: t("bench:about_dialog.handler"),
      type: "text",
      before: session.handler,
    },
    { key: "place", label: t("bench:about_dialog.place"), type: "text", before: session.place },
  ];
  const { register, handleSubmit } = useForm({
    defaultValues: Object.fromEntries(rows.map(({ key, before }) => [key, now(key, before)])),
  });
  const save = (said: Record<string, string>) => {
    const set: Record<string, string | null> = {};
    for (const { key, before } of rows) {
      const value = said[key]?.trim() ?? "";
      if (value !== now(key, before)) set[key] = value || null;
    }
    if (Object.keys(set).length > 0) log.apply([{ op: "facts", set }]);
    onClose();
  };
  return (
    <PaperDialog
      title={t("bench:about_dialog.about_this_session")}
      description={t("bench:about_dialog.another_person_or_another_place")}
      className="w-[26rem]"
      onClose={onClose}
    >
      <form onSubmit={(event) => void handleSubmit(save)(event)} className="space-y-2.5">
        {rows.map(({ key, label, type }) => (
          <label key={key} className="grid grid-cols-[8rem_1fr] items-center gap-2">
            <span className="text-soft">{label}</span>
            <input {...register(key)} type={type} maxLength={200} className={FIELD} />
          </label>
        ))}
        {session.films[0] && <FilmedLine film={session.films[0]} />}
        <div className="flex justify-end gap-2 pt-2">
          <Button onClick={onClose}>{t("common:leave_it")}</Button>
          <Button look="main" type="submit">
            {t("bench:about_dialog.keep_it")}
          </Button>
        </div>
      </form>
    </PaperDialog>
  );
}
