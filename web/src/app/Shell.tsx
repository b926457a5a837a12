import { useQueryClient } from "@tanstack/react-query";
import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";
import { Link, NavLink, useNavigate } from "react-router";

import { answer, client, setCsrfToken } from "../api/client";
import { longDay } from "../format/dates";
import { Mark } from "../ui/Mark";
import { accountPath, spinePath, useBoard, useReconciliations, type Place } from "./places";
import { useCompany, useMe } from "./session";
import { useTheme } from "./theme";

interface ShellProps {
  children: ReactNode;
  place?: Place | undefined;
  reconciliationId?: number | undefined;
  onHelp?: () => void;
}

/** The frame of every page: where one is, where one can go, who one is. */
export function Shell({ children, place, reconciliationId, onHelp }: ShellProps) {
  return (
    <div className="flex h-full flex-col">
      <header className="no-print flex h-[46px] shrink-0 items-center gap-4 border-b border-line bg-sheet px-5">
        <Link to="/" className="flex items-center gap-2 text-base font-bold" aria-label="Net Naught, to the Board">
          <Mark />
          net naught
        </Link>
        <Crumbs place={place} reconciliationId={reconciliationId} />
        <Pages place={place} reconciliationId={reconciliationId} />
        {onHelp && (
          <button
            type="button"
            onClick={onHelp}
            aria-label="Keys"
            className="h-6 w-6 rounded border border-line font-mono text-xs text-muted"
          >
            ?
          </button>
        )}
        <Person />
      </header>
      <div className="min-h-0 flex-1">{children}</div>
    </div>
  );
}

const MENU = "z-50 min-w-52 rounded-lg border border-line bg-sheet p-1 shadow-lg";
const MENU_ITEM =
  "flex cursor-pointer items-center justify-between gap-4 rounded px-2.5 py-1.5 outline-none data-[highlighted]:bg-wine-soft";

function Crumbs({ place, reconciliationId }: Pick<ShellProps, "place" | "reconciliationId">) {
  const board = useBoard();
  const company = useCompany(place?.companyId ?? 0);
  if (!place) {
    return (
      <Link to="/" className="rounded-md bg-wine-soft px-2.5 py-1 font-semibold text-wine">
        All companies
      </Link>
    );
  }
  const accounts = board.data?.companies.find((c) => c.id === place.companyId)?.accounts ?? [];
  return (
    <nav aria-label="Where you are" className="flex items-center gap-2 whitespace-nowrap">
      <Link to="/" className="font-semibold">
        {company.name}
      </Link>
      <span className="text-muted">›</span>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className="rounded px-1 font-semibold">{place.account.name}</DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content className={MENU} align="start" sideOffset={6}>
            {accounts.map(({ account }) => (
              <DropdownMenu.Item key={account.id} className={MENU_ITEM} asChild>
                <Link to={accountPath(place.companyId, account.id, "statements")}>
                  {account.name}
                  <span className="text-xs text-muted">{account.bank || "counted"}</span>
                </Link>
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <Closing place={place} reconciliationId={reconciliationId} locale={company.locale} />
    </nav>
  );
}

function Closing({
  place,
  reconciliationId,
  locale,
}: {
  place: Place;
  reconciliationId?: number | undefined;
  locale: string;
}) {
  const found = useReconciliations(place.companyId, place.account.id);
  const here = found.data?.find((item) => item.id === reconciliationId);
  if (!found.data?.length) return null;
  return (
    <>
      <span className="text-muted">›</span>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className="rounded-md bg-wine-soft px-2.5 py-1 font-semibold text-wine">
          {here ? `to ${longDay(here.closing_date, locale)}` : "closing date"}
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content className={MENU} align="start" sideOffset={6}>
            {[...found.data].reverse().map((item) => (
              <DropdownMenu.Item key={item.id} className={MENU_ITEM} asChild>
                <Link to={spinePath(place.companyId, item.id)}>
                  to {longDay(item.closing_date, locale)}
                  <span className="text-xs text-muted">
                    {item.sealed ? "sealed" : item.stage === "in work" ? "open" : item.stage}
                  </span>
                </Link>
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </>
  );
}

function Pages({ place, reconciliationId }: Pick<ShellProps, "place" | "reconciliationId">) {
  const found = useReconciliations(place?.companyId ?? 0, place?.account.id);
  const latest = reconciliationId ?? found.data?.find((item) => !item.sealed)?.id ?? found.data?.at(-1)?.id;
  const links: [string, string][] = [["Board", "/"]];
  if (!place) links.push(["Statements", "/statements"], ["Audit trail", "/trail"], ["Setup", "/setup"]);
  if (place) {
    links.push(["Statements", accountPath(place.companyId, place.account.id, "statements")]);
    if (latest) links.push(["Spine", spinePath(place.companyId, latest)]);
    links.push(["Opening trace", accountPath(place.companyId, place.account.id, "trace")]);
    links.push(["Outstanding", accountPath(place.companyId, place.account.id, "outstanding")]);
    links.push(["Books", accountPath(place.companyId, place.account.id, "books")]);
    if (latest) links.push(["Papers", `${spinePath(place.companyId, latest)}/papers`]);
  }
  return (
    <nav aria-label="Pages" className="ml-auto flex items-center gap-4">
      {links.map(([name, to]) => (
        <NavLink
          key={name}
          to={to}
          end
          className={({ isActive }) =>
            `border-b-2 pt-0.5 ${isActive ? "border-wine font-bold" : "border-transparent text-muted hover:text-ink"}`
          }
        >
          {name}
        </NavLink>
      ))}
    </nav>
  );
}

function Person() {
  const me = useMe();
  const [theme, turn] = useTheme();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const initials = me.name
    .split(" ")
    .map((part) => part[0])
    .join("")
    .slice(0, 2);
  const signOut = async () => {
    await answer(client.POST("/api/sign-out"));
    setCsrfToken("");
    await navigate("/");
    await queries.resetQueries();
  };
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={`${initials}, ${me.name}`}
        className="h-7 w-7 shrink-0 rounded-full bg-slate-soft text-xs font-semibold text-slate"
      >
        {initials}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className={MENU} align="end" sideOffset={6}>
          <p className="px-2.5 py-1.5 text-xs text-muted">
            {me.name}
            <br />
            {me.email}
          </p>
          <DropdownMenu.Item className={MENU_ITEM} onSelect={turn}>
            {theme === "light" ? "Dark screen" : "Light screen"}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={MENU_ITEM} onSelect={() => void signOut()}>
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
