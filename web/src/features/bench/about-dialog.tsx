import { Dialog } from "radix-ui";
import type { FormEvent } from "react";

import type { SessionOut } from "../../api/client";
import { Button } from "../../components/button";
import type { EditLog } from "../../domain/edit-log";

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
    { key: "date", label: "Day", type: "date", before: session.date ?? "" },
    { key: "time", label: "Time", type: "time", before: session.time },
    { key: "trainer", label: "Trained by", type: "text", before: session.trainer },
    { key: "handler", label: "Handler", type: "text", before: session.handler },
    { key: "place", label: "Place", type: "text", before: session.place },
  ];
  const save = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const set: Record<string, string | null> = {};
    for (const { key, before } of rows) {
      const said = form.get(key);
      const value = typeof said === "string" ? said.trim() : "";
      if (value !== now(key, before)) set[key] = value || null;
    }
    if (Object.keys(set).length > 0) log.apply([{ op: "facts", set }]);
    onClose();
  };
  return (
    <Dialog.Root modal={false} open onOpenChange={onClose}>
      <Dialog.Portal>
        <div aria-hidden className="fixed inset-0 z-30 bg-ink/25" />
        <Dialog.Content
          onInteractOutside={(event) => event.preventDefault()}
          className="fixed top-16 left-1/2 z-40 w-[26rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 rounded border border-ink bg-raised p-6"
        >
          <Dialog.Title className="text-[18px] font-semibold">About this session</Dialog.Title>
          <Dialog.Description className="mt-1 mb-4 text-soft">
            Another person or another place is a change the animal notices: note it, and the logbook
            can tell them apart.
          </Dialog.Description>
          <form onSubmit={save} className="space-y-2.5">
            {rows.map(({ key, label, type, before }) => (
              <label key={key} className="grid grid-cols-[8rem_1fr] items-center gap-2">
                <span className="text-soft">{label}</span>
                <input
                  name={key}
                  type={type}
                  maxLength={200}
                  defaultValue={now(key, before)}
                  className={FIELD}
                />
              </label>
            ))}
            <div className="flex justify-end gap-2 pt-2">
              <Button onClick={onClose}>Leave it</Button>
              <Button look="main" type="submit">
                Keep it
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
