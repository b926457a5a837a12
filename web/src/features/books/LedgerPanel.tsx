import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { postFile, type Schemas } from "../../api/client";
import { useCompany } from "../../app/session";
import { counted, longDay } from "../../format/dates";
import { money } from "../../format/money";
import { Empty } from "../../ui/controls";
import { useNotices } from "../../ui/Notices";
import { useRefresh } from "../statements/statements";
import type { Absent } from "./books";
import { columnsField, type Columns } from "./ColumnsForm";
import { absentQuestions, ComparedFile, takenOf } from "./ComparedFile";

type LedgerRead = Schemas["LedgerReadOut"];
type Change = LedgerRead["rows"][number];
type Version = NonNullable<Change["row"]>;

const TURNED = "The journal entries known here have the opposite signs in this file: debits must be positive.";

/** What a ledger's detail says that is not known here, by consequence, before anything is applied. */
export function LedgerPanel({ companyId, file, onClose }: { companyId: number; file: File; onClose: () => void }) {
  const { locale, rights, currency } = useCompany(companyId);
  const refresh = useRefresh();
  const notices = useNotices();
  const [gone, setGone] = useState<Absent | null>(null);
  const [outside, setOutside] = useState<Absent | null>(null);
  const [columns, setColumns] = useState<Columns | null>(null);
  const path = `/api/companies/${companyId}/journal/import`;
  const told = columnsField(columns);
  const preview = useQuery({
    queryKey: ["ledger import", companyId, file.name, file.size, file.lastModified, columns],
    queryFn: () => postFile<LedgerRead>(`${path}/preview`, file, { columns: told }),
    placeholderData: (last) => last,
    gcTime: 0,
    retry: false,
  });
  const found = preview.data;
  const rows = found?.rows ?? [];
  const number = (change: Change["change"]) => rows.filter((row) => row.change === change).length;
  const taken = takenOf(rows, gone, outside);
  const altering = taken.filter(({ alters }) => alters).length;
  const store = useMutation({
    mutationFn: () => postFile<LedgerRead>(path, file, { gone, outside, columns: told }),
    onSuccess: async () => {
      notices.say(`${counted(taken.length, "difference")} taken over.`);
      await refresh();
      onClose();
    },
  });
  return (
    <ComparedFile
      file={file}
      against="the journal"
      table={found?.table}
      columns={columns}
      onColumns={setColumns}
      troubles={[
        ...(preview.error ? [preview.error.message] : []),
        ...(found?.doubts ?? []).map(() => `${TURNED} Nothing can be taken over.`),
      ]}
      facts={[
        ["New journal entries", String(number("new"))],
        ["Changed", String(number("changed"))],
        ["Exported from here, come back", String(number("returned"))],
        ["No longer in the file", String(number("gone"))],
        ["Left as they are", String(number("held"))],
        ["Known already, the same", String(found?.same ?? 0)],
      ]}
      questions={absentQuestions(
        "journal entry",
        "journal entries",
        { number: number("gone"), value: gone, onChange: setGone },
        { number: number("outside"), value: outside, onChange: setOutside },
      )}
      taken={taken.length}
      altering={altering}
      mayAlter={rights.includes("alter")}
      alters="the ledger in days that are sealed."
      busy={store.isPending}
      failed={store.error?.message}
      onStore={() => store.mutate()}
      onClose={onClose}
    >
      <Changes rows={rows} write={(amount) => money(amount, currency, locale)} locale={locale} />
    </ComparedFile>
  );
}

const WORDS: Record<Change["change"], string> = {
  new: "new",
  same: "known",
  changed: "changed",
  gone: "gone",
  outside: "not in the file",
  returned: "exported from here, come back",
  back: "back again",
  held: "left as it is",
};

/** Heaviest first: what moves the ledger of sealed days, then the rest. */
const GROUPS: { name: string; tells: string; has: (row: Change) => boolean }[] = [
  {
    name: "In sealed days of a bank account",
    tells: "each moves the ledger at a sealed date",
    has: ({ touches, change }) => touches === "sealed" && ["changed", "gone", "back", "new"].includes(change),
  },
  {
    name: "Changed, gone or back",
    tells: "",
    has: ({ touches, change }) => touches !== "sealed" && ["changed", "gone", "back"].includes(change),
  },
  { name: "Left as they are", tells: "", has: ({ change }) => change === "held" },
  {
    name: "Come back",
    tells: "exported from here: recognised, not doubled",
    has: ({ change }) => change === "returned",
  },
  { name: "New", tells: "", has: ({ touches, change }) => touches !== "sealed" && change === "new" },
  { name: "Outside the file's days", tells: "", has: ({ change }) => change === "outside" },
];

// More would make the page slow.
const SHOWN = 200;

interface ChangesProps {
  rows: Change[];
  write: (amount: number) => string;
  locale: string;
}

function Changes({ rows, write, locale }: ChangesProps) {
  if (!rows.length) return <Empty title="No difference">Everything in the file stands in the ledger as it is.</Empty>;
  return (
    <section className="overflow-auto px-5 py-4" aria-label="Differences">
      {GROUPS.map(({ name, tells, has }) => {
        const here = rows.filter(has);
        if (!here.length) return null;
        return (
          <div key={name} className="mb-5">
            <h2 className="mb-1 font-bold">
              {name} <span className="font-normal text-muted">· {here.length}</span>
              {tells && <span className="ml-2 font-normal text-muted">{tells}</span>}
            </h2>
            <table className="w-full border-collapse bg-sheet">
              <tbody>
                {here.slice(0, SHOWN).map((row, n) => (
                  <ChangeRow key={n} row={row} write={write} locale={locale} />
                ))}
              </tbody>
            </table>
            {here.length > SHOWN && <p className="p-2 text-muted">… and {here.length - SHOWN} more of these.</p>}
          </div>
        );
      })}
    </section>
  );
}

function ChangeRow({ row, write, locale }: { row: Change; write: (amount: number) => string; locale: string }) {
  const shown = row.row ?? row.known;
  if (!shown) return null;
  const was = row.row && row.known && row.fields.length ? row.known : null;
  const differ = (field: string) => was !== null && row.fields.includes(field);
  return (
    <tr className="border-b border-hair align-top">
      <td className="w-28 py-1 pl-3 whitespace-nowrap text-muted">
        {longDay(shown.date, locale)}
        {differ("date") && was && <s className="block text-xs">{longDay(was.date, locale)}</s>}
      </td>
      <td className="figure w-20 py-1 text-xs">{row.id}</td>
      <td className="py-1">
        {shown.memo}
        {differ("memo") && was && <s className="ml-2 text-xs text-muted">{was.memo}</s>}
        <Postings version={shown} write={write} />
        {differ("lines") && was && (
          <div className="mt-0.5 text-muted">
            <span className="text-xs">was</span>
            <Postings version={was} write={write} struck />
          </div>
        )}
        {row.how !== "same id" && row.how && <span className="block text-xs text-muted">{row.how}</span>}
      </td>
      <td className="w-60 py-1 pr-3 pl-5">
        <b>{WORDS[row.change]}</b>
        {row.shifts.map(({ account, amount }) => (
          <span key={account} className="block text-xs text-muted">
            {account} <span className="figure">{(amount > 0 ? "+" : "") + write(amount)}</span>
          </span>
        ))}
      </td>
    </tr>
  );
}

function Postings({
  version,
  write,
  struck,
}: {
  version: Version;
  write: (amount: number) => string;
  struck?: boolean;
}) {
  return (
    <span className={`grid grid-cols-[1fr_8rem] gap-x-3 text-xs ${struck ? "line-through" : ""}`}>
      {version.lines.map(({ account, amount }, n) => (
        <span key={n} className="contents">
          <span className={amount < 0 ? "pl-4" : ""}>{account}</span>
          <span className="figure text-right">{write(amount)}</span>
        </span>
      ))}
    </span>
  );
}
