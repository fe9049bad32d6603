import { DropdownMenu } from "radix-ui";
import { memo, useEffect, type ReactNode } from "react";
import { Link, NavLink, useNavigate, useNavigation } from "react-router";

import { logout } from "../api/account";
import { useMe } from "../api/queries";
import { forgetKits } from "../domain/yard-kits";
import { HouseMark } from "./glyphs";
import { Wait } from "./states";
import { switchTheme } from "./theme";
import { t } from "../words";

interface ShellProps {
  title: string;
  /** What the page is about: learner, behaviour, day. */
  crumb?: string;
  /** The session whose bench and findings the header leads to. */
  sessionId?: string;
  /** What stands in the right corner, such as whether everything is saved. */
  corner?: ReactNode;
  children: ReactNode;
}

const TAB =
  "py-0.5 text-soft hover:text-ink aria-[current=page]:text-ink aria-[current=page]:shadow-[0_2px_0_var(--ink)]";

const TABS = [
  { to: "/", words: t("components:shell.today") },
  { to: "/plans", words: t("components:shell.plans") },
  { to: "/films", words: t("components:shell.films") },
  { to: "/calendar", words: t("components:shell.calendar") },
  { to: "/logbook", words: t("common:logbook") },
];
/** All that somebody needs who reads reports only. */
const READER_TABS = [{ to: "/reports", words: t("components:shell.reports") }];

/** The frame of every page: whose work this is, where one can go, and what the corner says. */
export function Shell({ title, crumb, sessionId, corner, children }: ShellProps) {
  useEffect(() => {
    document.title = t("components:shell.title_frequens", { title });
  }, [title]);
  return (
    <div className="flex min-h-full flex-col">
      <header className="no-print relative flex min-h-11 shrink-0 items-center gap-4 border-b border-ink px-[18px] max-md:flex-wrap max-md:gap-x-2 max-md:gap-y-0 max-md:px-3 max-md:pb-1">
        <Home />
        {crumb && <span className="min-w-0 truncate text-soft max-lg:hidden">{crumb}</span>}
        <span className="flex-1" />
        <Ways {...(sessionId ? { sessionId } : {})} />
        <span className="flex-1" />
        {corner}
        <AccountMenu />
        <OnItsWay />
      </header>
      {children}
    </div>
  );
}

const Home = memo(function Home() {
  return (
    <Link to="/" className="flex items-center gap-3 text-[16px] font-semibold">
      <HouseMark />
      {t("common:frequens")}
    </Link>
  );
});

/** Where one can go. The bench draws its page with every picture of a film: this is the same in all. */
const Ways = memo(function Ways({ sessionId }: { sessionId?: string }) {
  const role = useMe().data?.role;
  return (
    <nav
      aria-label={t("components:shell.main")}
      className={`flex gap-5 max-lg:gap-3 max-md:order-last max-md:w-full max-md:flex-wrap max-md:justify-between max-md:gap-y-0 ${
        sessionId ? "max-md:gap-x-1.5 max-md:text-[12.5px]" : "max-md:gap-x-2"
      }`}
    >
      {(role === "reader" ? READER_TABS : TABS).map(({ to, words }) => (
        <NavLink key={to} to={to} end={to === "/"} className={TAB}>
          {words}
        </NavLink>
      ))}
      {sessionId && role !== "reader" && (
        <>
          <NavLink to={`/sessions/${sessionId}/bench`} className={TAB}>
            {t("components:shell.bench")}
          </NavLink>
          <NavLink to={`/sessions/${sessionId}/findings`} className={TAB}>
            {t("components:shell.findings")}
          </NavLink>
          <NavLink to={`/sessions/${sessionId}/next`} className={TAB}>
            {t("components:shell.next")}
          </NavLink>
        </>
      )}
    </nav>
  );
});

/** A page whose code is still to come: on a slow line a press would seem to do nothing. */
function OnItsWay() {
  if (useNavigation().state === "idle") return null;
  return (
    <div className="shown-late absolute top-full left-1/2 z-40 -translate-x-1/2 rounded-b border border-t-0 border-ink bg-raised px-2">
      <Wait>{t("app:app.opening")}</Wait>
    </div>
  );
}

const ITEM = "cursor-pointer rounded px-3 py-1.5 outline-none data-[highlighted]:bg-hair";

const AccountMenu = memo(function AccountMenu() {
  const me = useMe();
  const navigate = useNavigate();
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="whitespace-nowrap text-soft hover:text-ink">
        {me.data?.username ?? t("components:shell.account")} <span aria-hidden>▾</span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Content
        align="end"
        sideOffset={6}
        className="z-40 min-w-44 rounded border border-ink bg-raised p-1"
      >
        <DropdownMenu.Label className="px-3 py-1.5 text-soft">
          {me.data &&
            t("components:shell.place_as", {
              workspace: me.data.workspace,
              role: t(`account:people.role_${me.data.role}`),
            })}
        </DropdownMenu.Label>
        <DropdownMenu.Item className={ITEM} onSelect={switchTheme}>
          {t("components:shell.light_or_dark")}
        </DropdownMenu.Item>
        {me.data && me.data.role !== "reader" && (
          <>
            <DropdownMenu.Item className={ITEM} onSelect={() => navigate("/drill")}>
              {t("components:shell.timing_drill")}
            </DropdownMenu.Item>
            <DropdownMenu.Item className={ITEM} onSelect={() => navigate("/second-looks")}>
              {t("components:shell.second_looks")}
            </DropdownMenu.Item>
            <DropdownMenu.Item className={ITEM} onSelect={() => navigate("/people")}>
              {t("components:shell.people")}
            </DropdownMenu.Item>
          </>
        )}
        <DropdownMenu.Item className={ITEM} onSelect={() => navigate("/account")}>
          {t("components:shell.your_account")}
        </DropdownMenu.Item>
        <DropdownMenu.Item
          className={ITEM}
          onSelect={() => {
            forgetKits();
            void logout().then(() => window.location.assign("/login"));
          }}
        >
          {t("components:shell.log_out")}
        </DropdownMenu.Item>
      </DropdownMenu.Content>
    </DropdownMenu.Root>
  );
});
