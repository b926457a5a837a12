import { memo, type MouseEvent, type ReactNode } from "react";

import { counted } from "../../format/dates";
import { Key } from "../../ui/controls";
import type { Entry, Line, Row } from "./api";
import { Knot } from "./Knot";
import type { Fold, Heading, Items } from "./rows";
import type { Side } from "./state";
import { useWriting } from "./writing";

/** Bank left, books right, their amounts beside the spine. */
export const COLUMNS = "grid grid-cols-[minmax(0,1fr)_64px_minmax(0,1fr)]";
const BANK = "grid grid-cols-[46px_minmax(0,1fr)_minmax(56px,auto)_96px] items-center gap-x-2 pl-3 pr-2";
const BOOKS = "grid grid-cols-[96px_46px_52px_minmax(0,1fr)] items-center gap-x-2 pl-2 pr-3";

interface RowProps {
  row: Row;
  items: Items;
  here: boolean;
  sub: number;
  side: Side;
  lines: ReadonlySet<number>;
  entries: ReadonlySet<number>;
  onPick: (row: Row, sub: number, side: Side, select: boolean) => void;
}

/** One row of the Spine, as many lines high as its longer side. */
export const SpineRow = memo(function SpineRow(props: RowProps) {
  const { row, items, here } = props;
  const subs = Math.max(1, row.lines.length, row.entries.length);
  const ground = here ? "bg-wine-soft" : row.kind === "question" ? "bg-ember-soft" : "bg-sheet";
  return (
    <div
      className={`${COLUMNS} border-b border-hair ${ground} ${here ? "outline outline-2 -outline-offset-2 outline-wine" : ""}`}
    >
      <div>
        {Array.from({ length: subs }, (_, sub) => (
          <BankCell key={sub} {...props} at={sub} line={items.lines.get(row.lines[sub] ?? -1)} />
        ))}
      </div>
      <div className={`border-x border-line ${here ? "bg-wine" : "bg-paper"}`}>
        <Knot row={row} subs={subs} here={here} />
      </div>
      <div className={row.entries.length > 1 && row.kind !== "question" ? "border-l-2 border-wine" : ""}>
        {Array.from({ length: subs }, (_, sub) => (
          <BooksCell key={sub} {...props} at={sub} entry={items.entries.get(row.entries[sub] ?? -1)} />
        ))}
      </div>
    </div>
  );
});

type CellProps = RowProps & { at: number };

function picker({ onPick, row, at }: CellProps, side: Side) {
  return (event: MouseEvent) => onPick(row, at, side, event.ctrlKey || event.metaKey || event.shiftKey);
}

function mark(selected: boolean, pointed: boolean): string {
  return `${selected ? "shadow-[inset_4px_0_0_var(--wine)] bg-wine-soft font-semibold" : ""} ${pointed ? "underline decoration-wine decoration-2 underline-offset-4" : ""}`;
}

function BankCell({ line, ...props }: CellProps & { line: Line | undefined }) {
  const write = useWriting();
  const { row, at, here, sub, side } = props;
  if (!line) {
    return (
      <div className={`${BANK} h-7`} onClick={picker(props, "books")}>
        {at === 0 && <span className="col-span-4 truncate text-right text-muted">{bankGap(props)}</span>}
      </div>
    );
  }
  const pointed = here && row.kind === "question" && sub === at && side !== "books";
  return (
    <div className={`${BANK} h-7 ${mark(props.lines.has(line.id), pointed)}`} onClick={picker(props, "bank")}>
      <Day iso={line.date} />
      <span className="truncate" title={line.description}>
        {line.description}
      </span>
      <span className="figure text-right text-xs text-muted">{line.reference}</span>
      <span className="figure text-right">{write.amount(line.amount)}</span>
    </div>
  );
}

function BooksCell({ entry, ...props }: CellProps & { entry: Entry | undefined }) {
  const write = useWriting();
  const { row, at, here, sub, side } = props;
  if (!entry) {
    return (
      <div className={`${BOOKS} h-7`} onClick={picker(props, "bank")}>
        {at === 0 && <span className="col-span-4 col-start-2 truncate text-muted">{booksGap(props)}</span>}
      </div>
    );
  }
  const ghost = row.kind === "proposal" ? "text-wine" : "";
  const pointed = here && row.kind === "question" && sub === at && side !== "bank";
  return (
    <div
      className={`${BOOKS} h-7 ${ghost} ${mark(props.entries.has(entry.id), pointed)}`}
      onClick={picker(props, "books")}
    >
      <span className="figure text-right">{write.amount(entry.amount)}</span>
      <Day iso={entry.date} ghost={ghost} />
      <span className={`figure truncate text-xs ${ghost || "text-muted"}`}>{entry.reference}</span>
      <span className="flex min-w-0 items-center gap-2">
        <span className="truncate" title={entry.memo}>
          {entry.payee || entry.memo}
          {entry.payee && entry.memo && <span className="text-muted"> · {entry.memo}</span>}
        </span>
        {at === 0 && <Chip row={row} />}
      </span>
    </div>
  );
}

function Day({ iso, ghost = "" }: { iso: string; ghost?: string }) {
  const text = useWriting().day(iso);
  const long = text.length > 6 ? "text-[0.625rem] tracking-tight" : "";
  return <span className={`whitespace-nowrap ${ghost || "text-muted"} ${long}`}>{text}</span>;
}

function Chip({ row }: { row: Row }) {
  const write = useWriting();
  const tag = (text: string, colours: string) => (
    <span className={`ml-auto shrink-0 rounded px-1.5 text-xs leading-5 ${colours}`}>{text}</span>
  );
  if (row.proposal) {
    const { cause, difference, kind } = row.proposal;
    if (kind === "ready")
      return row.far && row.days !== null ? tag(`${Math.abs(row.days)} days apart`, "bg-slate-soft text-slate") : null;
    if (kind === "doubled") return tag("twice in the books", "bg-wine-soft text-wine");
    if (cause === "a fee was taken") return tag(`less fee ${write.amount(-difference)}`, "bg-wine-soft text-wine");
    if (cause && cause !== "other amount") return tag(cause, "bg-wine-soft text-wine");
    if (difference) return tag(`${write.amount(difference)} apart`, "bg-wine-soft text-wine");
    return tag(
      kind === "group" && row.entries.length > 1 ? `${row.entries.length} make one` : "amount alone",
      "bg-wine-soft text-wine",
    );
  }
  if (row.kind === "question") return tag("which belong together?", "bg-sheet text-ember");
  if (row.changed) return tag("changed since it was sealed", "bg-ember-soft text-ember");
  if (row.far && row.days !== null) return tag(`${Math.abs(row.days)} days apart`, "bg-slate-soft text-slate");
  return null;
}

/** What stands in the gap opposite an entry: why it has no partner at the bank. */
function bankGap({ row, items }: CellProps): ReactNode {
  const entry = items.entries.get(row.entries[0] ?? -1);
  switch (row.kind) {
    case "proposal":
      return row.proposal?.kind === "doubled"
        ? "the other one is at the bank"
        : "a wash: these cancel inside the books";
    case "wash":
      return "a wash: these cancel inside the books";
    case "ticked":
      return row.changed ? "cleared in here after the seal" : "on the statement";
    case "later":
      return "after the period";
    case "outstanding": {
      if (!entry || entry.age === null) return null;
      const days = entry.age === 0 ? "booked that day" : entry.age === 1 ? "1 day" : `${entry.age} days`;
      if (entry.stale) {
        return (
          <>
            <span className="font-semibold text-ember">stale</span> · {days}, past {entry.stale}
          </>
        );
      }
      return `${entry.age_kind === "deposit in transit" ? "in transit" : "outstanding"} · ${days}`;
    }
    default:
      return null;
  }
}

/** What stands in the gap opposite a statement line: what can be done with it. */
function booksGap({ row }: CellProps): ReactNode {
  if (row.kind === "wash" || (row.kind === "proposal" && !row.entries.length))
    return "a wash: these cancel inside the statement";
  if (row.changed && !row.entries.length)
    return <b className="font-semibold text-ember">gone from the books since it was sealed</b>;
  if (row.kind === "bank error") return "a bank error, open until the bank corrects it";
  if (row.kind !== "line") return null;
  if (row.settles) {
    const { number, kind, why } = row.settles;
    return (
      <>
        <Key>Enter</Key> settles <b className="font-semibold text-ink">{counted(number, kind)}</b>, {why}
      </>
    );
  }
  if (row.suggestion) {
    return (
      <>
        <Key>R</Key> record as <b className="font-semibold text-ink">{row.suggestion.account_name}</b>,{" "}
        {row.suggestion.why}
      </>
    );
  }
  return (
    <>
      <Key>R</Key> record in the books
    </>
  );
}

interface FoldProps {
  fold: Fold;
  here: boolean;
  onPick: (fold: Fold) => void;
}

/** A run of matched rows, folded to one line with its sums on both sides. */
export const FoldRow = memo(function FoldRow({ fold, here, onPick }: FoldProps) {
  const write = useWriting();
  const days = fold.from === fold.to ? write.day(fold.from) : `${write.day(fold.from)} – ${write.day(fold.to)}`;
  const sums = (into: number, out: number) => (
    <span className="flex items-baseline gap-3 text-xs text-muted">
      <span>
        in <span className="figure text-[0.8125rem]">{write.amount(into)}</span>
      </span>
      <span>
        out <span className="figure text-[0.8125rem]">{write.amount(out)}</span>
      </span>
    </span>
  );
  return (
    <div
      className={`${COLUMNS} h-7 border-b border-hair ${here ? "bg-wine-soft outline outline-2 -outline-offset-2 outline-wine" : "bg-paper"}`}
      onClick={() => onPick(fold)}
    >
      <div className="flex items-center justify-between gap-2 pr-2 pl-3 text-muted">
        <span className="whitespace-nowrap">
          {fold.rows.length} matched, {days}
        </span>
        {sums(fold.bankIn, fold.bankOut)}
      </div>
      <div className={`relative flex items-center justify-center border-x border-line ${here ? "bg-wine" : ""}`}>
        <span className={`absolute inset-x-0 top-1/2 h-0.5 -translate-y-1/2 ${here ? "bg-on-wine" : "bg-wine"}`} />
        <span
          className={`relative rounded-full px-2 font-mono text-xs leading-5 font-bold ${here ? "bg-on-wine text-wine" : "bg-wine text-on-wine"}`}
        >
          {fold.rows.length}
        </span>
      </div>
      <div className="flex items-center justify-between gap-2 pr-3 pl-2">
        {sums(fold.booksIn, fold.booksOut)}
        <span className="text-muted">
          <Key>O</Key> unfold
        </span>
      </div>
    </div>
  );
});

interface HeadingProps {
  heading: Heading;
  here: boolean;
}

/** The head of a group of rows, with its sums on both sides. */
export const HeadingRow = memo(function HeadingRow({ heading, here }: HeadingProps) {
  const write = useWriting();
  return (
    <div
      className={`${COLUMNS} h-7 items-center border-b border-line bg-paper ${here ? "shadow-[inset_2px_0_var(--wine)]" : ""}`}
    >
      <span className="flex min-w-0 items-baseline gap-2 pr-2 pl-3" style={{ paddingLeft: 12 + heading.level * 16 }}>
        <b className="truncate">{heading.label}</b>
        <span className="text-muted">{heading.count}</span>
        <span className="figure ml-auto">{heading.bank ? write.amount(heading.bank) : ""}</span>
      </span>
      <span />
      <span className="figure w-[105px] text-right">{heading.books ? write.amount(heading.books) : ""}</span>
    </div>
  );
});
