import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";

import { spinePath, useBoard, type Place } from "../../app/places";
import { useCompany } from "../../app/session";
import { counted, longDay, shortDay } from "../../format/dates";
import { money, parseMoney, plain } from "../../format/money";
import { Button, Field, Trouble } from "../../ui/controls";
import { LayoutPanel } from "./LayoutPanel";
import {
  AS_FOUND,
  NOTHING_GIVEN,
  previewFile,
  storeFile,
  useRefresh,
  type HeadGiven,
  type How,
  type Reading,
} from "./statements";

interface ReadingPanelProps {
  place: Place;
  file: File;
  onClose: () => void;
}

/** What was understood of a statement file, before anything is stored. */
export function ReadingPanel({ place, file, onClose }: ReadingPanelProps) {
  const { currency } = place.account;
  const [given, setGiven] = useState<HeadGiven>(NOTHING_GIVEN);
  const [how, setHow] = useState<How>(AS_FOUND);
  const [agreed, setAgreed] = useState<string[]>([]);
  const navigate = useNavigate();
  const refresh = useRefresh();
  const reading = useQuery({
    queryKey: ["reading", place.companyId, place.account.id, file.name, file.lastModified, file.size, given, how],
    queryFn: ({ signal }) => previewFile(place, file, given, how, signal),
    placeholderData: (before) => before,
    gcTime: 0,
  });
  const store = useMutation({
    mutationFn: () => storeFile(place, file, given, how, agreed),
    onSuccess: async (stored) => {
      await refresh();
      await navigate(spinePath(place.companyId, stored.reconciliation_id));
    },
  });
  if (reading.isPending) {
    return (
      <div className="max-w-3xl space-y-3 p-6" role="status">
        <p className="text-muted">
          Reading {file.name}, {Math.ceil(file.size / 1024).toLocaleString()} KB …
        </p>
        <div className="h-1 w-80 overflow-hidden rounded bg-line">
          <div className="h-full w-1/3 animate-pulse rounded bg-wine" />
        </div>
        <Button onClick={onClose}>Cancel</Button>
      </div>
    );
  }
  if (reading.error) {
    return (
      <div className="max-w-3xl space-y-3 p-6">
        <Trouble>{reading.error.message}</Trouble>
        <div className="flex gap-2">
          {how.layout && <Button onClick={() => setHow(AS_FOUND)}>Read it as it was found</Button>}
          <Button onClick={onClose}>Choose another file</Button>
        </div>
      </div>
    );
  }
  const found = reading.data;
  const kinds = [...new Set(found.notices.map((notice) => notice.kind))];
  const unconfirmed = kinds.filter((kind) => !agreed.includes(kind));
  const nothingNew = found.nothing_new;
  const asked = found.table?.questions.length ?? 0;
  return (
    <div className="grid h-full grid-cols-[23rem_1fr]">
      <section
        className="flex flex-col gap-4 overflow-auto border-r border-line bg-sheet p-5"
        aria-label="What was understood"
      >
        <div>
          <h1 className="text-base font-bold break-all">{file.name}</h1>
          <p className="text-muted">Nothing is stored yet.</p>
        </div>
        <Understood found={found} place={place} />
        <Given found={found} given={given} currency={currency} onChange={setGiven} />
        {found.problems.map((problem) => (
          <Trouble key={problem}>{problem}</Trouble>
        ))}
        {found.notices.map((notice) => (
          <label key={notice.text} className="flex gap-2 rounded-md border border-ember/40 bg-ember-soft px-3 py-2">
            <input
              type="checkbox"
              className="mt-0.5 accent-wine"
              checked={agreed.includes(notice.kind)}
              onChange={(event) =>
                setAgreed(
                  event.target.checked ? [...agreed, notice.kind] : agreed.filter((kind) => kind !== notice.kind),
                )
              }
            />
            <span>
              {notice.text}
              <span className="block text-xs text-muted">
                Store it all the same; it is to be settled before sealing.
              </span>
            </span>
          </label>
        ))}
        {store.error && <Trouble>{store.error.message}</Trouble>}
        <div className="mt-auto flex gap-2">
          <Button
            weight="main"
            className="flex-1"
            autoFocus
            disabled={store.isPending || unconfirmed.length > 0 || nothingNew || asked > 0}
            onClick={() => store.mutate()}
          >
            {asked ? "Answer the question first" : storeWords(found, nothingNew)}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </section>
      <div className="flex min-h-0 flex-col">
        {found.table && <LayoutPanel table={found.table} onChange={(layout) => setHow({ ...how, layout })} />}
        {found.in_file.length > 1 && <InFile found={found} place={place} />}
        <Lines found={found} place={place} />
      </div>
    </div>
  );
}

/** The other statements in the file, and to which bank account each belongs. */
function InFile({ found, place }: { found: Reading; place: Place }) {
  const board = useBoard();
  const accounts = board.data?.companies.find((c) => c.id === place.companyId)?.accounts ?? [];
  return (
    <section aria-label="Statements in the file" className="border-b border-line bg-paper p-4">
      <h2 className="text-base font-bold">This file holds {found.in_file.length} statements</h2>
      <ul className="mt-1">
        {found.in_file.map((item) => {
          const owner = accounts.find(({ account }) => account.id === item.bank_account_id)?.account;
          return (
            <li key={item.number} className="flex gap-4 py-0.5">
              <span className="figure w-44">{item.number}</span>
              <span className="w-20 text-muted">{item.lines} lines</span>
              <span>
                {item.number === found.account
                  ? `read here, for ${place.account.name}`
                  : owner
                    ? `${owner.name}: read it there from the same file`
                    : "none of your accounts yet"}
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

function storeWords(found: Reading, nothingNew: boolean): string {
  if (nothingNew) return "Nothing new to store";
  const lines = found.new_count === 1 ? "1 new line" : `${found.new_count} new lines`;
  if (found.line_count && !found.new_count) return "Store the statement and go to the Spine";
  return found.line_count ? `Store ${lines} and go to the Spine` : "Store and go to the Spine";
}

const FORMATS: Record<string, string> = {
  ofx: "OFX",
  "camt.053": "camt.053",
  mt940: "MT940",
  bai2: "BAI2",
  csv: "plain table (CSV)",
  delimited: "table (delimited text)",
  xlsx: "table (XLSX)",
  pdf: "PDF",
};

function Understood({ found, place }: { found: Reading; place: Place }) {
  const { locale } = useCompany(place.companyId);
  const write = (amount: number) => money(amount, found.currency, locale);
  const foots =
    found.foots === null
      ? found.opening_derived
        ? "cannot be told: the file states no opening, so it is worked out from the closing"
        : "cannot be told: a balance is missing"
      : found.foots
        ? "yes: opening and lines make the closing"
        : "no";
  const rows: [string, string, boolean][] = [
    ["Format", FORMATS[found.format] ?? found.format, false],
    ["Bank", found.bank || place.account.bank, false],
    ["Account", found.account || `not named; taken as ${place.account.number}`, false],
    ["Period", `${longDay(found.start, locale)} – ${longDay(found.end, locale)}`, false],
    [
      found.opening_derived && found.opening !== null ? "Opening, worked out" : "Opening",
      found.opening === null ? "none" : write(found.opening),
      true,
    ],
    [`In, ${counted(found.count_in, "line")}`, write(found.total_in), true],
    [`Out, ${counted(found.count_out, "line")}`, write(found.total_out), true],
    ["Closing", found.closing === null ? "none" : write(found.closing), true],
    ["Foots", foots, false],
    ["Continues", continues(found, write, locale), false],
    ["Known already", `${found.line_count - found.new_count} of ${found.line_count} lines`, false],
    [
      "Goes to",
      `the reconciliation to ${longDay(found.closes, locale)}${found.joins_open ? ", already open" : ", opened with it"}`,
      false,
    ],
  ];
  return (
    <dl className="grid grid-cols-[8.5rem_1fr] gap-y-1.5">
      {rows.map(([name, value, figure]) => (
        <div key={name} className="contents">
          <dt className="text-muted">{name}</dt>
          <dd className={figure ? "figure text-right" : "text-right"}>{value}</dd>
        </div>
      ))}
    </dl>
  );
}

/** Whether the opening is the balance that went before. */
function continues(found: Reading, write: (amount: number) => string, locale: string): string {
  if (found.opening === null || found.before_closing === null) return "cannot be told";
  const before = `the closing of ${longDay(found.before_end, locale)}, ${write(found.before_closing)}`;
  return found.opening === found.before_closing ? `from ${before}` : `does not: ${before}`;
}

interface GivenProps {
  found: Reading;
  given: HeadGiven;
  currency: string;
  onChange: (given: HeadGiven) => void;
}

/** Asked only for what the file does not state. */
function Given({ found, given, currency, onChange }: GivenProps) {
  const [closing, setClosing] = useState(given.closing === null ? "" : plain(given.closing, currency));
  const [asked] = useState({ closing: found.closing === null, dates: !found.dates_stated });
  if (!asked.closing && !asked.dates) return null;
  const amount = parseMoney(closing, currency);
  return (
    <div className="grid grid-cols-2 gap-3 rounded-md border border-line bg-paper p-3">
      <p className="col-span-2">The file does not state this. From the bank's own page or paper:</p>
      {asked.dates && (
        <>
          <Field
            label="First day"
            type="date"
            defaultValue={found.start}
            onChange={(event) => onChange({ ...given, start: event.target.value || null, end: given.end ?? found.end })}
          />
          <Field
            label="Last day"
            type="date"
            defaultValue={found.end}
            onChange={(event) =>
              onChange({ ...given, end: event.target.value || null, start: given.start ?? found.start })
            }
          />
        </>
      )}
      {asked.closing && (
        <Field
          label="Closing balance"
          figure
          className="col-span-2"
          value={closing}
          error={closing && amount === null ? `is no amount in ${currency}` : undefined}
          onChange={(event) => {
            setClosing(event.target.value);
            onChange({ ...given, closing: parseMoney(event.target.value, currency) });
          }}
        />
      )}
    </div>
  );
}

function Lines({ found, place }: { found: Reading; place: Place }) {
  const { locale } = useCompany(place.companyId);
  return (
    <section className="min-h-0 flex-1 overflow-auto" aria-label="Lines of the statement" tabIndex={0}>
      <table className="w-full border-collapse">
        <thead className="sticky top-0 bg-paper text-left text-xs text-muted">
          <tr className="border-b border-line">
            <th className="w-20 py-2 pl-5 font-normal">Date</th>
            <th className="font-normal">Text</th>
            <th className="w-32 font-normal">Reference</th>
            <th className="w-28 font-normal">Kind</th>
            <th className="w-32 text-right font-normal">Amount</th>
            <th className="w-24 pr-5 pl-4 font-normal"></th>
          </tr>
        </thead>
        <tbody className="bg-sheet">
          {found.lines.map((line) => (
            <tr key={line.position} className={`h-7 border-b border-hair ${line.known ? "text-muted" : ""}`}>
              <td className="pl-5 whitespace-nowrap">{shortDay(line.date, locale)}</td>
              <td>{line.description}</td>
              <td className="figure text-xs">{line.reference}</td>
              <td className="text-muted">{line.kind}</td>
              <td className="figure text-right">{money(line.amount, found.currency, locale)}</td>
              <td className="pr-5 pl-4 text-xs">{line.known ? "known" : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {found.line_count > found.lines.length && (
        <p className="p-4 text-muted">… and {found.line_count - found.lines.length} more lines.</p>
      )}
    </section>
  );
}
