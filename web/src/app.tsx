import { QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { createBrowserRouter, RouterProvider } from "react-router";

import { Refused } from "./api/client";
import { Bench } from "./bench/bench";
import { Films } from "./films/films";
import { FindingsPage } from "./findings/findings-page";
import { LogbookPage } from "./logbook/logbook-page";
import { Login } from "./login/login";
import { Password } from "./login/password";
import { NextPage } from "./next/next-page";
import { PlanPage } from "./plan/plan-page";
import { PlansPage } from "./plan/plans-page";
import { ReportPage } from "./report/report-page";
import { TodayPage } from "./today/today-page";
import { NoticeProvider } from "./ui/notice";
import { NotFound } from "./ui/not-found";

const client = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (failures, error) => !(error instanceof Refused) && failures < 3,
      refetchOnWindowFocus: false,
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

const router = createBrowserRouter([
  { path: "/login", element: <Login /> },
  { path: "/", element: <TodayPage /> },
  { path: "/films", element: <Films /> },
  { path: "/plans", element: <PlansPage /> },
  { path: "/plans/:behaviourId", element: <PlanPage /> },
  { path: "/logbook", element: <LogbookPage /> },
  { path: "/logbook/:behaviourId", element: <LogbookPage /> },
  { path: "/account", element: <Password /> },
  { path: "/sessions/:sessionId/bench", element: <Bench /> },
  { path: "/sessions/:sessionId/findings", element: <FindingsPage /> },
  { path: "/sessions/:sessionId/next", element: <NextPage /> },
  { path: "/sessions/:sessionId/report", element: <ReportPage /> },
  { path: "*", element: <NotFound /> },
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
