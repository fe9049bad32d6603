import { Dialog } from "radix-ui";
import { memo, useEffect, useState } from "react";

import { Button } from "../../components/button";
import { KeyCap } from "../../components/key-cap";
import type { EditLog } from "../../domain/edit-log";
import {
  ACTS,
  capOf,
  isFree,
  keyMapOf,
  usePreferences,
  type Act,
  type KeyMap,
} from "../../domain/key-map";
import { KINDS, type MarkKind } from "../../domain/marks";
import type { Marking } from "./use-marking";
import type { Playback } from "./use-playback";
import { t } from "../../words";

const FIELDS = "input, select, textarea, [role=menu], [role=dialog], [contenteditable]";

/** Whether a key press belongs to a field or an open menu rather than to the bench. */
function isElsewhere(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement;
  return target.closest(FIELDS) !== null;
}

interface KeyParts {
  marking: Marking;
  playback: Playback;
  log: EditLog;
  keys: KeyMap;
  acts: Record<Act, () => void>;
}

/** The bench's keys, all of them. */
export function useKeys({ marking, playback, log, keys, acts }: KeyParts): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (isElsewhere(event)) return;
      if (event.ctrlKey || event.metaKey) {
        if (event.key.toLowerCase() !== "z") return;
        event.preventDefault();
        if (event.shiftKey) log.redo();
        else log.undo();
        return;
      }
      const by = event.shiftKey ? 10 : 1;
      const fixed: Record<string, () => void> = {
        ArrowLeft: () => (event.altKey ? marking.nudge(-by) : playback.goTo(playback.wanted - by)),
        ArrowRight: () => (event.altKey ? marking.nudge(by) : playback.goTo(playback.wanted + by)),
        ArrowUp: () => marking.toRep(-1),
        ArrowDown: () => marking.toRep(1),
        Backspace: marking.remove,
        Delete: marking.remove,
        Escape: marking.letGo,
      };
      const step = marking.plan.approximations?.[Number(event.key) - 1];
      const done = event.altKey ? null : keys.doneBy(event.key);
      // A focused button is pressed by Enter, as everywhere.
      const isButton =
        (event.target as HTMLElement).closest(t("bench:keys.button_a_summary")) !== null;
      if (
        event.key === "Enter" &&
        isButton &&
        !(event.target as HTMLElement).closest("[data-frame]")
      )
        return;
      const act = fixed[event.key]
        ? fixed[event.key]
        : step
          ? () => marking.startStep(step.key)
          : done === null
            ? undefined
            : "kind" in done
              ? () => marking.place(done.kind)
              : acts[done.act];
      if (!act || (event.repeat && !event.key.startsWith("Arrow"))) return;
      // Space on a focused button must not press it as well.
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [marking, playback, log, keys, acts]);
}

const FIXED_KEYS: [string, string][] = [
  ["1 … 9", t("bench:keys.from_here_this_step_of")],
  ["← →", t("bench:keys.one_frame_with_shift_ten")],
  ["↑ ↓", t("bench:keys.the_rep_before_the_next")],
  [t("bench:keys.alt"), t("bench:keys.move_the_chosen_mark_by")],
  [t("bench:keys.backspace"), t("bench:keys.remove_the_chosen_mark")],
  [t("bench:keys.esc"), t("bench:keys.let_go_of_the_chosen")],
  [t("bench:keys.ctrl_z"), t("bench:keys.undo_with_shift_redo")],
];

/** All keys on one card; those of marks and acts can be changed here. */
export const KeyCard = memo(function KeyCard({
  open,
  onOpenChange,
}: {
  open: boolean;
  onOpenChange: (o: boolean) => void;
}) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange} modal={false}>
      <Dialog.Content
        aria-describedby={undefined}
        className="fixed top-14 right-[18px] z-40 max-h-[calc(100vh-5rem)] w-[27rem] overflow-y-auto rounded border border-ink bg-raised p-5"
      >
        <Dialog.Title className="text-[16px] font-semibold">
          {t("bench:keys.keys_of_the_bench")}
        </Dialog.Title>
        <KeyList />
      </Dialog.Content>
    </Dialog.Root>
  );
});

function KeyList() {
  const { preferences, change } = usePreferences();
  const own = preferences.keys ?? {};
  const keys = keyMapOf(own);
  const [changing, setChanging] = useState<MarkKind | Act | null>(null);
  const [fault, setFault] = useState("");
  const rows: { name: MarkKind | Act; words: string }[] = [
    ...KINDS.map((k) => ({ name: k.kind, words: k.words })),
    ...ACTS.map((a) => ({ name: a.act, words: a.words })),
  ];

  useEffect(() => {
    if (changing === null) return;
    const press = (event: KeyboardEvent) => {
      event.preventDefault();
      event.stopPropagation();
      if (event.key === "Shift") return;
      setChanging(null);
      if (event.key === "Escape") return;
      const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      if (!isFree(key)) {
        setFault(t("bench:keys.key_is_needed_for_something", { key: capOf(key) }));
        return;
      }
      // What had the key before gets the one that is given up.
      const other = rows.find((row) => keys.keyOf(row.name) === key && row.name !== changing);
      const next = { ...own, [changing]: key };
      if (other) next[other.name] = keys.keyOf(changing);
      setFault("");
      change({ keys: next });
    };
    window.addEventListener("keydown", press, { capture: true });
    return () => window.removeEventListener("keydown", press, { capture: true });
  });

  return (
    <>
      <p className="mb-3 text-soft">{t("bench:keys.press_one_of_them_here")}</p>
      {fault && (
        <p role="alert" className="mb-2 text-fault">
          {fault}
        </p>
      )}
      <dl className="grid grid-cols-[6rem_1fr] gap-y-1">
        {rows.map(({ name, words }) => (
          <div key={name} className="contents">
            <dt>
              <button
                type="button"
                aria-label={t("bench:keys.change_the_key_for_words", { words })}
                onClick={() => setChanging(name)}
                className="hover:outline-1 hover:outline-soft"
              >
                {changing === name ? (
                  <em className="text-[12.5px] text-marker">{t("bench:keys.press_a_key")}</em>
                ) : (
                  <KeyCap>{capOf(keys.keyOf(name))}</KeyCap>
                )}
              </button>
            </dt>
            <dd>{words}</dd>
          </div>
        ))}
        {FIXED_KEYS.map(([key, words]) => (
          <div key={key} className="contents">
            <dt>
              <KeyCap>{key}</KeyCap>
            </dt>
            <dd>{words}</dd>
          </div>
        ))}
      </dl>
      <div className="mt-4 flex gap-2">
        <Dialog.Close asChild>
          <Button>{t("common:close")}</Button>
        </Dialog.Close>
        {Object.keys(own).length > 0 && (
          <Button look="quiet" onClick={() => change({ keys: {} })}>
            {t("bench:keys.the_usual_keys_again")}
          </Button>
        )}
      </div>
    </>
  );
}
