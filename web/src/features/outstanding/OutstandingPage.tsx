import { useState } from "react";
import { Link, useSearchParams } from "react-router";

import { AccountPage } from "../../app/AccountPage";
import { spinePath, type Place } from "../../app/places";
import { useCompany } from "../../app/session";
import { counted, longDay } from "../../format/dates";
import { money } from "../../format/money";
import { Empty, Trouble } from "../../ui/controls";
import { ItemPanel } from "./ItemPanel";
import { useOutstanding, type Item, type Lingering } from "./outstanding";

export function OutstandingPage() {
  return <AccountPage>{(place) => <Loaded key={place.account.id} place={place} />}</AccountPage>;
}

function Loaded({ place }: { place: Place }) {
  const [query] = useSearchParams();
  const asked = Number(query.get("reconciliation") ?? 0) || null;
  const found = useOutstanding(place, asked);
  if (found.error) return <Trouble>{found.error.message}</Trouble>;
  if (found.data === undefined) return null;
  if (found.data === null) {
    return <Empty title="No statement yet">What lingers is judged at a closing date: get the first statement.</Empty>;
  }
  return <List place={place} list={found.data} />;
}

type Order = "age" | "amount" | "payee";
const GRID = "grid grid-cols-[5.5rem_5rem_minmax(0,1fr)_8rem_4rem_13rem] items-center gap-x-3 px-3";

function List({ place, list }: { place: Place; list: Lingering }) {
  const { locale } = useCompany(place.companyId);
  const { currency } = place.account;
  const [order, setOrder] = useState<Order>("age");
  const [chosen, setChosen] = useState<number | null>(null);
  const write = (amount: number) => money(amount, currency, locale);
  const items = [...list.items].sort((a, b) =>
    order === "age"
      ? b.days - a.days
      : order === "amount"
        ? Math.abs(b.amount) - Math.abs(a.amount)
        : (a.payee || a.memo).localeCompare(b.payee || b.memo),
  );
  const item = items.find(({ id }) => id === chosen) ?? items.find(({ stale }) => stale) ?? items[0];
  const stale = items.filter((x) => x.stale).length;
  const heading = (name: Order, words: string, right = false) => (
    <button
      type="button"
      aria-pressed={order === name}
      className={`${right ? "text-right" : "text-left"} ${order === name ? "font-bold text-ink" : ""}`}
      onClick={() => setOrder(name)}
    >
      {words}
    </button>
  );
  return (
    <div className="flex h-full">
      <main className="flex min-w-0 flex-1 flex-col px-6 pt-4">
        <h1 className="text-xl font-bold">
          Not at the bank on {longDay(list.closing_date, locale)}: {write(list.roll.end)}
        </h1>
        <p className="mb-2 text-muted">
          {counted(items.length, "entry", "entries")} of the bank book
          {stale > 0 && (
            <>
              {" "}
              · <b className="text-ember">{stale} past the rule</b>
            </>
          )}
          {list.sealed && " · the list as it stands in a sealed period"}
        </p>
        <div className={`${GRID} border-b border-line pb-1 text-xs text-muted`}>
          <span>Date</span>
          <span>Reference</span>
          {heading("payee", "Payee · memo")}
          {heading("amount", "Amount", true)}
          {heading("age", "Days", true)}
          <span>What it is</span>
        </div>
        <div className="min-h-0 flex-1 overflow-auto bg-sheet" tabIndex={0} aria-label="Outstanding entries">
          {items.length === 0 && (
            <Empty title="Nothing lingers">Every entry up to this day has reached the bank.</Empty>
          )}
          {items.map((x) => (
            <button
              key={x.id}
              type="button"
              aria-current={x.id === item?.id}
              onClick={() => setChosen(x.id)}
              className={`${GRID} h-7 w-full border-b border-hair text-left ${x.id === item?.id ? "bg-wine-soft" : "hover:bg-paper"}`}
            >
              <span className="text-muted">{longDay(x.date, locale).replace(/, \d{4}$/, "")}</span>
              <span className="figure truncate text-xs">{x.reference}</span>
              <span className="truncate">
                {x.payee}
                {x.memo && <span className="text-muted"> · {x.memo}</span>}
              </span>
              <span className="figure text-right">{write(x.amount)}</span>
              <span className="figure text-right">{x.days}</span>
              <Mark item={x} />
            </button>
          ))}
        </div>
        <Ageing steps={list.ageing} write={write} />
      </main>
      <aside className="flex w-[320px] shrink-0 flex-col gap-4 overflow-auto border-l border-line bg-sheet p-4">
        {item && <ItemPanel key={item.id} place={place} item={item} list={list} />}
        <RollForward list={list} locale={locale} write={write} />
        <Checks list={list} />
        <Link className="font-semibold text-wine" to={spinePath(place.companyId, list.reconciliation_id)}>
          The reconciliation to {longDay(list.closing_date, locale)}
        </Link>
      </aside>
    </div>
  );
}

/** What an item is, and by which rule it has been waiting too long. */
function Mark({ item }: { item: Item }) {
  if (item.stale)
    return (
      <span className="truncate text-ember">
        {item.kind}, <b>past {item.stale}</b>
      </span>
    );
  return (
    <span className="truncate text-muted">
      {item.kind}
      {item.reversed && ", reversed"}
      {item.notes.length > 0 && ", note"}
    </span>
  );
}

/** How long the money has been on its way: one bar for what came, one for what went, per step of age. */
function Ageing({ steps, write }: { steps: Lingering["ageing"]; write: (amount: number) => string }) {
  const most = Math.max(1, ...steps.flatMap(({ came_in, went_out }) => [came_in.total, -went_out.total]));
  return (
    <section aria-label="Ageing" className="shrink-0 border-t border-line py-3">
      <div className="grid grid-cols-5 gap-4">
        {steps.map(({ since, until, came_in, went_out }) => (
          <div key={since}>
            <p className="text-xs text-muted">
              {until === null ? `more than ${since - 1} days` : `${since}–${until} days`} ·{" "}
              {came_in.count + went_out.count}
            </p>
            {(
              [
                ["in", came_in.total, "bg-wine"],
                ["out", went_out.total, "bg-slate"],
              ] as const
            ).map(([name, amount, look]) => (
              <div key={name} className="mt-1 flex items-center gap-1.5">
                <span className="w-6 text-xs text-muted">{name}</span>
                <span className={`h-2 rounded-sm ${look}`} style={{ width: `${(Math.abs(amount) / most) * 45}%` }} />
                <span className="figure text-xs">{amount ? write(amount) : "–"}</span>
              </div>
            ))}
          </div>
        ))}
      </div>
    </section>
  );
}

interface RollForwardProps {
  list: Lingering;
  locale: string;
  write: (amount: number) => string;
}

/** From the last seal's list to this one. */
function RollForward({ list, locale, write }: RollForwardProps) {
  const { roll } = list;
  const rows: [string, number][] = [
    [`Outstanding on ${longDay(list.since, locale)}`, roll.start],
    ["Booked in the period", roll.booked],
    ["Backdated since then", roll.backdated],
    ["Changed or voided", roll.changed],
    ["Cleared at the bank", -roll.cleared],
  ];
  return (
    <section aria-label="Roll-forward">
      <h2 className="mb-1 font-bold">Rolled forward</h2>
      <dl className="grid grid-cols-[1fr_auto] gap-y-1">
        {rows.map(([name, amount]) => (
          <div key={name} className="contents">
            <dt className="text-muted">{name}</dt>
            <dd className="figure text-right">{write(amount)}</dd>
          </div>
        ))}
        <dt className="border-t border-ink pt-1 font-bold">Outstanding on {longDay(list.closing_date, locale)}</dt>
        <dd className="figure border-t border-ink pt-1 text-right font-bold">{write(roll.end)}</dd>
        {roll.late !== 0 && (
          <>
            <dt className="text-muted">Apart: late in the books</dt>
            <dd className="figure text-right">{write(roll.late)}</dd>
          </>
        )}
      </dl>
    </section>
  );
}

/** Check numbers that are missing between two written ones, and those that stand twice. */
function Checks({ list }: { list: Lingering }) {
  if (!list.gaps.length && !list.doubles.length) return null;
  const shown = list.gaps.slice(-6).map(({ first, last }) => (first === last ? String(first) : `${first}–${last}`));
  return (
    <section aria-label="Check numbers">
      <h2 className="mb-1 font-bold">Check numbers</h2>
      {list.doubles.length > 0 && (
        <p className="text-ember">
          Twice in the books: <span className="figure">{list.doubles.map(({ number }) => number).join(", ")}</span>
        </p>
      )}
      {list.gaps.length > 0 && (
        <p className="text-muted">
          Missing between written ones: <span className="figure whitespace-normal">{shown.join(", ")}</span>
          {list.gaps.length > 6 && `, and ${list.gaps.length - 6} earlier`}
        </p>
      )}
    </section>
  );
}
