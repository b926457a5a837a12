import { useVirtualizer } from "@tanstack/react-virtual";
import { useMemo, useRef, useState } from "react";
import { Link } from "react-router";

import { AccountPage } from "../../app/AccountPage";
import { spinePath, type Place } from "../../app/places";
import { useCompany } from "../../app/session";
import { counted, longDay, shortDay } from "../../format/dates";
import { money } from "../../format/money";
import { Button, Empty, Trouble } from "../../ui/controls";
import { finds, readSearch } from "../spine/search";
import { useBook, type BookLine } from "./books";
import { EntryDialog } from "./EntryDialog";
import { ImportPanel } from "./ImportPanel";

export function BooksPage() {
  return <AccountPage>{(place) => <Book key={place.account.id} place={place} />}</AccountPage>;
}

function Book({ place }: { place: Place }) {
  const company = useCompany(place.companyId);
  const book = useBook(place);
  const [typed, setTyped] = useState("");
  const [open, setOpen] = useState(false);
  const [editing, setEditing] = useState<number | "new" | null>(null);
  const [file, setFile] = useState<File | null>(null);
  const chooser = useRef<HTMLInputElement>(null);
  const may = company.rights.includes("prepare");
  const shown = useMemo(() => {
    const search = readSearch(typed, place.account.currency);
    const rows = (book.data ?? []).filter(
      (line) =>
        (!open || !line.cleared_on) &&
        finds(search, line.amount, `${line.payee} ${line.memo} ${line.reference}`, line.date),
    );
    return rows.reverse();
  }, [book.data, typed, open, place.account.currency]);
  if (file) return <ImportPanel place={place} file={file} onClose={() => setFile(null)} />;
  return (
    <main className="flex h-full flex-col px-6 pt-5">
      <div className="mb-3 flex items-center gap-3">
        <h1 className="text-xl font-bold">Bank book</h1>
        <p className="text-muted">
          {place.account.gl_number} {place.account.name} · {counted(shown.length, "entry", "entries")}
        </p>
        <input
          type="search"
          aria-label="Search"
          placeholder="text, 48.30, >100 …"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          className="ml-auto w-44 rounded-md border border-line bg-sheet px-2 py-1"
        />
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            className="accent-wine"
            checked={open}
            onChange={(event) => setOpen(event.target.checked)}
          />
          not at the bank
        </label>
        <Link className="font-semibold text-wine" to={`/company/${place.companyId}/ledger`}>
          Ledger
        </Link>
        <Link className="font-semibold text-wine" to={`/company/${place.companyId}/open-items`}>
          Open items
        </Link>
        <a
          className="font-semibold text-wine"
          href={`/api/companies/${place.companyId}/accounts/${place.account.id}/book/export.csv`}
        >
          Export
        </a>
        {may && (
          <>
            <Button onClick={() => chooser.current?.click()}>Import</Button>
            <Button weight="main" onClick={() => setEditing("new")}>
              New entry
            </Button>
          </>
        )}
        <input
          ref={chooser}
          type="file"
          accept=".csv,.txt,.tsv,.xlsx,text/csv"
          className="sr-only"
          tabIndex={-1}
          aria-label="Bank book file"
          onChange={(event) => {
            setFile(event.target.files?.[0] ?? null);
            event.target.value = "";
          }}
        />
      </div>
      {book.error && <Trouble>{book.error.message}</Trouble>}
      {book.data?.length === 0 && (
        <Empty title="No entries yet">
          Import the bank book (id, date, reference, payee, memo, amount), or enter them by hand.
        </Empty>
      )}
      {book.data && book.data.length > 0 && <Lines place={place} rows={shown} may={may} onEdit={setEditing} />}
      {editing !== null && (
        <EntryDialog place={place} entryId={editing === "new" ? undefined : editing} onClose={() => setEditing(null)} />
      )}
    </main>
  );
}

const GRID = "grid grid-cols-[7.5rem_5rem_minmax(0,1fr)_9rem_9rem_13rem_5.5rem] items-center gap-x-3 px-3";

interface LinesProps {
  place: Place;
  rows: BookLine[];
  may: boolean;
  onEdit: (id: number) => void;
}

function Lines({ place, rows, may, onEdit }: LinesProps) {
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- the virtualizer's functions are read while rendering
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 29,
    overscan: 12,
  });
  return (
    <>
      <div className={`${GRID} border-b border-line pb-1.5 text-xs text-muted`}>
        <span>Date</span>
        <span>Reference</span>
        <span>Payee · memo</span>
        <span className="text-right">Amount</span>
        <span className="text-right">Balance</span>
        <span>At the bank</span>
        <span />
      </div>
      <div ref={scroller} className="min-h-0 flex-1 overflow-auto bg-sheet" data-testid="book">
        <div className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => {
            const line = rows[item.index];
            if (!line) return null;
            return (
              <div key={line.id} className="absolute inset-x-0" style={{ transform: `translateY(${item.start}px)` }}>
                <BookRow place={place} line={line} may={may} onEdit={onEdit} />
              </div>
            );
          })}
        </div>
      </div>
    </>
  );
}

interface BookRowProps {
  place: Place;
  line: BookLine;
  may: boolean;
  onEdit: (id: number) => void;
}

function BookRow({ place, line, may, onEdit }: BookRowProps) {
  const { locale, rights } = useCompany(place.companyId);
  const alters = rights.includes("alter");
  const { currency } = place.account;
  return (
    <div className={`${GRID} h-[29px] border-b border-hair`}>
      <span className="text-muted">{longDay(line.date, locale)}</span>
      <span className="figure truncate text-xs">{line.reference}</span>
      <span className="truncate">
        {line.payee}
        {line.memo && <span className="text-muted"> · {line.memo}</span>}
      </span>
      <span className="figure text-right">{money(line.amount, currency, locale)}</span>
      <span className="figure text-right text-muted">{money(line.balance, currency, locale)}</span>
      <span className="flex items-center gap-2">
        <State line={line} />
        {line.cleared_on && line.cleared_in ? (
          <Link to={`${spinePath(place.companyId, line.cleared_in)}?entry=${line.id}`} className="hover:text-wine">
            cleared {shortDay(line.cleared_on, locale)}
            {line.sealed && <span className="text-muted">, sealed</span>}
          </Link>
        ) : (
          <span className="text-muted">not at the bank</span>
        )}
      </span>
      <span className="text-right">
        {may && (!line.sealed || alters) && (
          <Button weight="quiet" onClick={() => onEdit(line.id)}>
            Change
          </Button>
        )}
      </span>
    </div>
  );
}

/** A small ring for the state of an entry: open, closed, closed and filled. */
function State({ line }: { line: BookLine }) {
  return (
    <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden="true">
      <circle
        cx="6"
        cy="6"
        r="4.2"
        strokeWidth="1.8"
        strokeDasharray={line.cleared_on ? undefined : "2 1.6"}
        className={`${line.cleared_on ? "stroke-wine" : "stroke-muted"} ${line.sealed ? "fill-wine" : "fill-none"}`}
      />
    </svg>
  );
}
