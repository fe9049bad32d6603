import { useInfiniteQuery } from "@tanstack/react-query";

import { api, given } from "../../api/client";
import { Button } from "../../components/button";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import { crumbOf } from "../../domain/words";
import { t } from "../../words";

const A_PAGE = 100;

/** The reports of all sessions: what a reader comes for. */
export function ReportsPage() {
  const sessions = useInfiniteQuery({
    queryKey: ["sessions", "reports"],
    initialPageParam: null as string | null,
    queryFn: async ({ pageParam }) => {
      const query = { most: A_PAGE, ...(pageParam && { older_than: pageParam }) };
      return given(await api.GET("/api/sessions", { params: { query } }));
    },
    getNextPageParam: (page) => (page.length < A_PAGE ? undefined : page.at(-1)?.id),
  });
  const coded = sessions.data?.pages.flat().filter((session) => session.marks > 0) ?? [];
  return (
    <Shell title={t("report:reports_page.reports")}>
      <main className="mx-auto w-full max-w-[760px] px-[18px] pt-7 pb-16">
        <h1 className="text-[29px] leading-tight">{t("report:reports_page.reports")}</h1>
        {sessions.error ? (
          <Fault error={sessions.error} />
        ) : !sessions.data ? (
          <Wait>{t("report:reports_page.looking")}</Wait>
        ) : coded.length === 0 ? (
          <p className="mt-4">{t("report:reports_page.none_yet")}</p>
        ) : (
          <ul className="mt-5 border-t border-ink">
            {coded.map((session) => (
              <li
                key={session.id}
                className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-hair py-2.5"
              >
                <span className="min-w-0 flex-1">{crumbOf(session)}</span>
                <a
                  className="underline underline-offset-3"
                  href={`/api/sessions/${session.id}/report.html`}
                >
                  {t("report:reports_page.read_it")}
                </a>
                <a
                  className="underline underline-offset-3"
                  href={`/api/sessions/${session.id}/report.pdf`}
                >
                  {t("report:reports_page.as_pdf")}
                </a>
              </li>
            ))}
          </ul>
        )}
        {sessions.hasNextPage && (
          <Button
            className="mt-4"
            disabled={sessions.isFetchingNextPage}
            onClick={() => void sessions.fetchNextPage()}
          >
            {t("report:reports_page.older")}
          </Button>
        )}
      </main>
    </Shell>
  );
}
