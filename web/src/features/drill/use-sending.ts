import { useCallback, useState } from "react";

import { Refused } from "../../api/client";
import { t } from "../../words";
import { useFinishDrill, type Done } from "./use-drills";

interface SendingParts {
  onSent: (id: string) => void;
  onFault: (said: string | null) => void;
  /** It was sent, or could not be. */
  onTried: () => void;
}

/** Sends drills that are done. One that could not be sent stays while the page stands. */
export function useSending({ onSent, onFault, onTried }: SendingParts) {
  const [unsent, setUnsent] = useState<Done[]>([]);
  const finish = useFinishDrill();
  const send = useCallback(
    (one: Done) => {
      onFault(null);
      finish.mutate(one, {
        onSuccess: () => {
          setUnsent((all) => all.filter(({ id }) => id !== one.id));
          onSent(one.id);
        },
        onError: (error) => {
          onFault(error instanceof Refused ? error.message : t("drill:page.not_sent"));
          setUnsent((all) => [...all.filter(({ id }) => id !== one.id), one]);
        },
        onSettled: onTried,
      });
    },
    [finish, onFault, onSent, onTried],
  );
  return {
    send,
    resend: unsent.length > 0 ? () => unsent.forEach(send) : null,
    isSending: finish.isPending,
  };
}
