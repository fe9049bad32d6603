import { QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import type { ComponentType } from "react";
import { createBrowserRouter, RouterProvider, useRouteError } from "react-router";

import { Refused } from "./api/client";
import { Films } from "./features/films/films";
import { Login } from "./features/account/login";
import { PlansPage } from "./features/plan/plans-page";
import { TodayPage } from "./features/today/today-page";
import { NoticeProvider } from "./components/notice";
import { Fault, Wait } from "./components/states";
import { NotFound } from "./components/not-found";
import { t } from "./words";

const BUSY_EVERY_MS = 5000;

function isBusy(error: Error | null) {
  return error instanceof Refused && error.status === 503;
}

const client = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (failures, error) => !(error instanceof Refused) && failures < 3,
      refetchOnWindowFocus: false,
      // What the house cannot do just now it may be able to do soon.
      refetchInterval: ({ state: { error } }) => isBusy(error) && BUSY_EVERY_MS,
    },
  },
  queryCache: new QueryCache({
    onError: (error, query) => {
      // A page that already shows something keeps it and says itself that one is logged out.
      const empty = query.state.data === undefined;
      if (error instanceof Refused && error.status === 401 && empty) {
        location.assign(`/login?next=${encodeURIComponent(location.pathname + location.search)}`);
      }
    },
  }),
});

/** A page that could not be brought or shown. */
function Broken() {
  const error = useRouteError();
  return (
    <main className="p-6">
      <Fault error={error instanceof Error ? error : new Error()} />
    </main>
  );
}

/** A page whose code comes with the first visit to it. */
function page<Name extends string>(
  load: () => Promise<Record<Name, ComponentType>>,
  name: Name,
): () => Promise<{ Component: ComponentType }> {
  return async () => ({ Component: (await load())[name] });
}

const router = createBrowserRouter([
  {
    // While the first page's code is on its way; and where it does not come.
    hydrateFallbackElement: <Wait>{t("app:app.opening")}</Wait>,
    errorElement: <Broken />,
    children: [
      { path: "/login", element: <Login /> },
      {
        path: "/first",
        lazy: page(() => import("./features/account/first-account"), "FirstAccount"),
      },
      {
        path: "/phone",
        lazy: page(() => import("./features/account/phone-entry"), "PhoneEntry"),
      },
      { path: "/", element: <TodayPage /> },
      { path: "/films", element: <Films /> },
      { path: "/plans", element: <PlansPage /> },
      {
        path: "/plans/:behaviourId",
        lazy: page(() => import("./features/plan/plan-page"), "PlanPage"),
      },
      {
        path: "/plans/:behaviourId/rehearsal",
        lazy: page(() => import("./features/plan/rehearsal-page"), "RehearsalPage"),
      },
      {
        path: "/logbook",
        lazy: page(() => import("./features/logbook/logbook-page"), "LogbookPage"),
      },
      {
        path: "/logbook/:behaviourId",
        lazy: page(() => import("./features/logbook/logbook-page"), "LogbookPage"),
      },
      {
        path: "/calendar",
        lazy: page(() => import("./features/calendar/calendar-page"), "CalendarPage"),
      },
      { path: "/yard", lazy: page(() => import("./features/yard/yard-page"), "YardPage") },
      {
        path: "/yard/lead/:behaviourId",
        lazy: page(() => import("./features/yard/begin-page"), "BeginPage"),
      },
      {
        path: "/yard/led/:sessionId",
        lazy: page(() => import("./features/yard/led-page"), "LedPage"),
      },
      { path: "/drill", lazy: page(() => import("./features/drill/drill-page"), "DrillPage") },
      {
        path: "/second-looks",
        lazy: page(() => import("./features/second-look/second-looks-page"), "SecondLooksPage"),
      },
      {
        path: "/second-looks/:lookId",
        lazy: page(() => import("./features/second-look/second-look-page"), "SecondLookPage"),
      },
      {
        path: "/people",
        lazy: page(() => import("./features/account/people-page"), "PeoplePage"),
      },
      {
        path: "/invited",
        lazy: page(() => import("./features/account/invited"), "Invited"),
      },
      {
        path: "/reports",
        lazy: page(() => import("./features/report/reports-page"), "ReportsPage"),
      },
      { path: "/account", lazy: page(() => import("./features/account/account"), "Account") },
      {
        path: "/sessions/:sessionId/bench",
        lazy: page(() => import("./features/bench/bench"), "Bench"),
      },
      {
        path: "/sessions/:sessionId/findings",
        lazy: page(() => import("./features/findings/findings-page"), "FindingsPage"),
      },
      {
        path: "/sessions/:sessionId/next",
        lazy: page(() => import("./features/next/next-page"), "NextPage"),
      },
      {
        path: "/sessions/:sessionId/script",
        lazy: page(() => import("./features/next/script-page"), "ScriptPage"),
      },
      {
        path: "/sessions/:sessionId/report",
        lazy: page(() => import("./features/report/report-page"), "ReportPage"),
      },
      { path: "*", element: <NotFound /> },
    ],
  },
]);

export function App() {
  return (
    <QueryClientProvider client={client}>
      <NoticeProvider>
        <RouterProvider router={router} />
      </NoticeProvider>
    </QueryClientProvider>
  );
}
