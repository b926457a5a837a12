import { useState } from "react";
import { Link } from "react-router";

import type { Schemas } from "../../api/client";
import { accountPath, spinePath, useBoard, type Board } from "../../app/places";
import { useCompany } from "../../app/session";
import { Shell } from "../../app/Shell";
import { longDay, monthName, shortMonth } from "../../format/dates";
import { money } from "../../format/money";
import { Empty, Trouble } from "../../ui/controls";
import { Ring, RingWord } from "../../ui/Ring";

type CompanyBoard = Schemas["CompanyBoardOut"];
type AccountRow = Schemas["AccountRowOut"];
type Cell = Schemas["CellOut"];
type Todo = Schemas["TodoOut"];

const LEGEND: Schemas["RingOut"][] = [
  { state: "no statement", done: 0, of: 1 },
  { state: "in work", done: 2, of: 3 },
  { state: "at naught", done: 1, of: 1 },
  { state: "in review", done: 1, of: 1 },
  { state: "sealed", done: 1, of: 1 },
  { state: "disturbed", done: 1, of: 1 },
  { state: "accepted", done: 1, of: 1 },
  { state: "opened again", done: 2, of: 3 },
];

export function BoardPage() {
  const board = useBoard();
  return (
    <Shell>
      {board.error && (
        <div className="p-6">
          <Trouble>{board.error.message}</Trouble>
        </div>
      )}
      {board.data && (
        <div className="grid h-full grid-cols-[1fr_23rem]">
          <Accounts board={board.data} />
          <NextToDo todo={board.data.todo} />
        </div>
      )}
    </Shell>
  );
}

function Accounts({ board }: { board: Board }) {
  const [filter, setFilter] = useState("");
  const last = board.months.at(-1) ?? "";
  const rows = board.companies.flatMap((company) => company.accounts);
  const done = rows.filter((row) =>
    row.cells.some(
      (cell) => cell.month === last && ["sealed", "at naught", "accepted", "in review"].includes(cell.ring.state),
    ),
  ).length;
  const many = board.companies.length > 3 || rows.length > 8;
  if (board.companies.length > 0 && rows.length === 0) {
    return (
      <Empty title="No bank account yet.">
        <Link className="font-semibold text-wine" to="/setup">
          Set up the ledger accounts and the first bank account
        </Link>
      </Empty>
    );
  }
  if (!board.companies.length) {
    return (
      <Empty title="No company yet.">
        Ask an owner to add you to a company, or found one with “netnaught user add”.
      </Empty>
    );
  }
  return (
    <main className="overflow-auto px-6 pt-5">
      <div className="mb-3 flex items-baseline gap-4">
        <h1 className="text-xl font-bold">{monthName(last, "en-US")}</h1>
        <p className="text-base text-muted">
          {done} of {rows.length} accounts at naught · {rows.length - done} to go
        </p>
        {many && (
          <input
            aria-label="Filter accounts"
            placeholder="filter …"
            value={filter}
            onChange={(event) => setFilter(event.target.value)}
            className="ml-auto rounded-md border border-line bg-sheet px-2 py-1"
          />
        )}
      </div>
      <table className="w-full table-fixed border-collapse">
        <thead>
          <tr className="border-b border-line text-muted">
            <th className="w-60 text-left font-normal">
              <span className="sr-only">Account</span>
            </th>
            {board.months.map((month) => (
              <th key={month} className={`pb-1.5 font-normal ${month === last ? "text-ink" : ""}`}>
                {shortMonth(month, "en-US")}
              </th>
            ))}
          </tr>
        </thead>
        {board.companies.map((company) => (
          <CompanyRows key={company.id} company={company} months={board.months} filter={filter} />
        ))}
      </table>
      <div className="mt-4 flex gap-4 pb-6">
        {LEGEND.map((ring) => (
          <RingWord key={ring.state} ring={ring} />
        ))}
      </div>
    </main>
  );
}

function CompanyRows({ company, months, filter }: { company: CompanyBoard; months: string[]; filter: string }) {
  const wanted = filter.toLowerCase();
  const rows = company.accounts.filter((row) =>
    `${company.name} ${row.account.name} ${row.account.bank}`.toLowerCase().includes(wanted),
  );
  if (!rows.length && wanted) return null;
  return (
    <tbody>
      <tr className="border-b border-line">
        <th colSpan={months.length + 1} scope="rowgroup" className="pt-4 pb-1.5 text-left font-bold text-wine">
          {company.name}
        </th>
      </tr>
      {rows.map((row) => (
        <AccountLine key={row.account.id} companyId={company.id} row={row} months={months} />
      ))}
    </tbody>
  );
}

function AccountLine({ companyId, row, months }: { companyId: number; row: AccountRow; months: string[] }) {
  const { account } = row;
  const where = [account.bank || "counted, no bank", account.number && `·${account.number}`].filter(Boolean).join(" ");
  return (
    <tr className="border-b border-hair">
      <th scope="row" className="py-2 text-left font-normal">
        <Link
          to={accountPath(companyId, account.id, "statements")}
          className="block text-base font-bold hover:text-wine"
        >
          {account.name}
        </Link>
        <span className="text-xs text-muted">
          {where}
          {account.currency !== "USD" && ` · ${account.currency}`}
        </span>
      </th>
      {months.map((month, index) => (
        <td key={month} className={`align-top ${index === months.length - 1 ? "bg-sheet" : ""}`}>
          <div className="flex justify-center gap-2 py-2">
            {row.cells
              .filter((cell) => cell.month === month)
              .map((cell) => (
                <CellRing key={cell.closing_date ?? month} companyId={companyId} row={row} cell={cell} />
              ))}
          </div>
        </td>
      ))}
    </tr>
  );
}

function CellRing({ companyId, row, cell }: { companyId: number; row: AccountRow; cell: Cell }) {
  const { locale } = useCompany(companyId);
  const path = cell.reconciliation_id
    ? spinePath(companyId, cell.reconciliation_id)
    : accountPath(companyId, row.account.id, "statements");
  const until = cell.closing_date ? `to ${longDay(cell.closing_date, locale)}` : monthName(cell.month, locale);
  const amount = cell.difference === null ? "" : money(cell.difference, row.account.currency, locale);
  return (
    <Link
      to={path}
      className="flex min-w-16 flex-col items-center gap-0.5 rounded-md p-0.5 hover:bg-wine-soft"
      aria-label={`${row.account.name}, ${until}: ${cell.ring.state} ${amount}`}
    >
      <Ring ring={cell.ring} />
      <span className={`figure text-xs ${cell.difference ? "text-ember" : "text-muted"}`}>
        {amount || (cell.ring.state === "no statement" ? "no statement" : "\u00a0")}
      </span>
    </Link>
  );
}

function NextToDo({ todo }: { todo: Todo[] }) {
  return (
    <aside aria-label="Next to do" className="overflow-auto border-l border-line bg-sheet px-5 pt-5">
      <h2 className="mb-2 text-base font-bold">Next to do</h2>
      {!todo.length && (
        <p className="text-muted">Nothing waits. Every account is sealed as far as its statements go.</p>
      )}
      <ol>
        {todo.map((item, index) => (
          <li key={index} className="border-b border-hair last:border-0">
            <Link
              to={
                ["books gap", "relabelled", "ledger moved"].includes(item.kind)
                  ? accountPath(item.company_id, item.account_id, "trace")
                  : item.kind === "stale"
                    ? accountPath(item.company_id, item.account_id, "outstanding")
                    : item.reconciliation_id
                      ? spinePath(item.company_id, item.reconciliation_id)
                      : accountPath(item.company_id, item.account_id, "statements")
              }
              className="-mx-2 flex gap-3 rounded-md px-2 py-3 hover:bg-wine-soft"
            >
              {item.kind === "stale" ? (
                <Clock />
              ) : item.kind === "ledger disagrees" || item.kind === "ledger moved" ? (
                <Unequal />
              ) : (
                <Ring ring={item.ring} size={20} />
              )}
              <span>
                <span className="block font-bold">{item.title}</span>
                <span className="block text-muted">{item.text}</span>
                <span className="mt-1 block font-semibold text-wine">{item.action}</span>
              </span>
            </Link>
          </li>
        ))}
      </ol>
    </aside>
  );
}

function Clock() {
  return (
    <svg
      width="20"
      height="20"
      viewBox="0 0 32 32"
      className="shrink-0 stroke-ember"
      fill="none"
      strokeWidth="2.6"
      aria-hidden="true"
    >
      <circle cx="16" cy="16" r="11" />
      <path d="M16 9v7l5 3" />
    </svg>
  );
}

function Unequal() {
  return (
    <svg
      width="20"
      height="20"
      viewBox="0 0 32 32"
      className="shrink-0 stroke-ember"
      fill="none"
      strokeWidth="3"
      aria-hidden="true"
    >
      <path d="M6 12h20M6 20h20M20 6L12 26" />
    </svg>
  );
}
