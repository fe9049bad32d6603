/** Films on their way from this browser to the server, several at once. */

import { useCallback, useState } from "react";

import { faultsOf } from "../../api/client";
import { sendFile } from "../../api/send-file";
import { freshId } from "../../domain/marks";
import { HEAD_BYTES, notAFilmWeRead } from "../../domain/not-a-film-we-read";
import { t } from "../../words";

export interface Upload {
  id: string;
  name: string;
  /** Part sent, 0 to 1. */
  share: number;
  fault: string | null;
  cancel: () => void;
}

/** Uploads under way; `onDone` is called whenever one has arrived. */
export function useUploads(onDone: () => void) {
  const [uploads, setUploads] = useState<Upload[]>([]);

  const change = useCallback((id: string, to: Partial<Upload>) => {
    setUploads((all) => all.map((u) => (u.id === id ? { ...u, ...to } : u)));
  }, []);
  const forget = useCallback((id: string) => {
    setUploads((all) => all.filter((u) => u.id !== id));
  }, []);

  const send = useCallback(
    async (file: File) => {
      const id = freshId();
      const head = new Uint8Array(await file.slice(0, HEAD_BYTES).arrayBuffer());
      const refusal = notAFilmWeRead(head);
      if (refusal !== null) {
        const refused = { id, name: file.name, share: 0, fault: refusal };
        setUploads((all) => [{ ...refused, cancel: () => forget(id) }, ...all]);
        return;
      }
      const address = `/api/films?name=${encodeURIComponent(file.name)}`;
      const sending = sendFile(address, file, (share) => change(id, { share }));
      const cancel = () => {
        sending.stop();
        forget(id);
      };
      setUploads((all) => [{ id, name: file.name, share: 0, fault: null, cancel }, ...all]);
      const arrival = await sending.arrived;
      if (arrival === null) {
        change(id, { fault: t("films:uploads.the_connection_broke_while_sending") });
      } else if (arrival.status === 201) {
        forget(id);
        onDone();
      } else {
        change(id, { fault: faultsOf(arrival.body, arrival.status)[0] ?? "" });
      }
    },
    [change, forget, onDone],
  );

  return { uploads, send, forget };
}
