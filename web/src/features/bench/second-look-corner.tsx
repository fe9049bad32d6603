import { useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";

import { api, given, type SessionOut } from "../../api/client";
import { Button } from "../../components/button";
import { useNotice } from "../../components/notice";
import type { LogState } from "../../domain/edit-log";
import { t } from "../../words";

interface SecondLookCornerProps {
  sessionId: string;
  look: NonNullable<SessionOut["second_look"]>;
  state: LogState;
}

/** On the bench of a second coding: that it is one, and saying that one is done with it. */
export function SecondLookCorner({ sessionId, look, state }: SecondLookCornerProps) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const tell = useNotice();
  const page = `/second-looks/${look.id}`;
  const sayDone = async () => {
    try {
      given(
        await api.POST("/api/second-looks/{look_id}/done", {
          params: { path: { look_id: look.id } },
          body: { coding: "second", is_done: true },
        }),
      );
      for (const key of [["session", sessionId], ["second-look", look.id], ["second-looks"]]) {
        void client.invalidateQueries({ queryKey: key });
      }
      void navigate(page);
    } catch (error) {
      tell(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <span className="flex items-center gap-3 whitespace-nowrap">
      <Link to={page} title={t("bench:second_look.blind")} className="underline underline-offset-3">
        {t("bench:second_look.second_look")}
      </Link>
      {look.is_done ? (
        <span className="text-soft">{t("bench:second_look.is_done")}</span>
      ) : (
        <Button
          look="main"
          // What is not saved yet would not be part of it.
          disabled={state.saving !== "saved"}
          onClick={() => void sayDone()}
        >
          {t("bench:second_look.i_am_done")}
        </Button>
      )}
    </span>
  );
}
