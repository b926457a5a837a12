import { Link } from "react-router";

import { accountPath, spinePath } from "../../app/places";
import { counted, moment } from "../../format/dates";
import { Button, Key } from "../../ui/controls";
import { Ring } from "../../ui/Ring";
import type { Spine } from "./api";
import type { View } from "./rows";
import { useWriting } from "./writing";

interface StripProps {
  spine: Spine;
  locale: string;
  review: boolean;
  maySeal: boolean;
  onView: (view: View) => void;
  onSeal: () => void;
  onHead: () => void;
  onClues: () => void;
}

interface Figure {
  label: string;
  amount: number | null;
  go?: (() => void) | string;
  about: string;
}

/** The naught strip: the bank's figures under the bank, the books' under the books, the difference between them. */
export function Strip(props: StripProps) {
  const { spine } = props;
  return (
    <footer
      aria-label="Naught strip"
      className="grid shrink-0 grid-cols-[minmax(0,1fr)_176px_minmax(0,1fr)] border-t-2 border-ink bg-sheet"
    >
      <Column figures={bankFigures(props)} total={<BankTotal {...props} />} />
      <Middle {...props} />
      <Column figures={booksFigures(props)} total={<BooksTotal spine={spine} />} />
    </footer>
  );
}

function Column({ figures, total }: { figures: Figure[]; total: React.ReactNode }) {
  return (
    <div className="flex flex-col justify-end px-3 pt-1.5 pb-1">
      {figures.map((figure) => (
        <FigureLine key={figure.label} figure={figure} />
      ))}
      {total}
    </div>
  );
}

function FigureLine({ figure }: { figure: Figure }) {
  const write = useWriting();
  const inside = (
    <>
      <span className="text-muted">{figure.label}</span>
      <span className="figure">{figure.amount === null ? "–" : write.amount(figure.amount)}</span>
    </>
  );
  const look = "flex min-h-6 w-full items-center justify-between rounded-sm hover:bg-wine-soft";
  if (typeof figure.go === "string") {
    return (
      <Link to={figure.go} className={look} title={figure.about}>
        {inside}
      </Link>
    );
  }
  return (
    <button type="button" className={look} title={figure.about} onClick={figure.go}>
      {inside}
    </button>
  );
}

function bankFigures({ spine, onView, onHead }: StripProps): Figure[] {
  const { strip } = spine;
  const before = spine.before ? `${spinePath(spine.company_id, spine.before.id)}/papers` : undefined;
  const opening: Figure = {
    label: spine.before ? "Opening, as sealed" : "Opening, at the start",
    amount: strip.opening,
    go: before ?? onHead,
    about: "The closing balance of the reconciliation before",
  };
  if (strip.ticking) {
    const totals = strip.total_in !== null || strip.total_out !== null;
    return [
      opening,
      {
        label: totals && strip.total_in !== null ? "In, ticked of the total" : "In, ticked",
        amount: strip.ticked_in.total,
        go: () => onView("money in"),
        about:
          strip.total_in === null
            ? `${strip.ticked_in.count} entries`
            : "Ticked so far; the statement's total is in its head",
      },
      {
        label: totals && strip.total_out !== null ? "Out, ticked of the total" : "Out, ticked",
        amount: strip.ticked_out.total,
        go: () => onView("money out"),
        about: `${strip.ticked_out.count} entries`,
      },
    ];
  }
  return [
    opening,
    {
      label: `In, ${counted(strip.came_in.count, "line")}`,
      amount: strip.came_in.total,
      go: () => onView("money in"),
      about: "Statement lines, money in",
    },
    {
      label: `Out, ${counted(strip.went_out.count, "line")}`,
      amount: strip.went_out.total,
      go: () => onView("money out"),
      about: "Statement lines, money out",
    },
  ];
}

function booksFigures({ spine, onView }: StripProps): Figure[] {
  const { strip } = spine;
  const rows: Figure[] = [
    {
      label: "Counted so far",
      amount: strip.counted_so_far,
      go: () => onView("matched"),
      about: "Opening and everything cleared here",
    },
    {
      label: `Not at the bank, in (${strip.outstanding_in.count})`,
      amount: strip.outstanding_in.total,
      go: () => onView("not at the bank"),
      about: "Deposits in transit at the period's end",
    },
    {
      label: `Not at the bank, out (${strip.outstanding_out.count})`,
      amount: strip.outstanding_out.total,
      go: () => onView("not at the bank"),
      about: "Outstanding checks and payments at the period's end",
    },
  ];
  const further: [string, number, string][] = [
    ["Late in the books", -strip.late, "Cleared here, booked after the period's end"],
    ["Open bank errors", -strip.bank_errors, "Accepted as bank errors, not yet corrected by the bank"],
    ["Still open before", -strip.unfinished, "What an earlier reconciliation still lacks"],
    ["Changed since sealing", strip.books_gap, "The books gap: sealed entries that have changed"],
  ];
  for (const [label, amount, about] of further) {
    if (amount) rows.push({ label, amount, go: () => onView("matched"), about });
  }
  return rows;
}

function BankTotal({ spine, onHead }: StripProps) {
  const write = useWriting();
  const statement = spine.statements.at(-1);
  const foots = spine.strip.ticking
    ? "from paper"
    : spine.statements.some((s) => s.foots === false)
      ? "does not foot"
      : statement?.foots === true
        ? "foots"
        : statement?.format === "feed"
          ? "its statement is not there yet"
          : "the file states no opening";
  return (
    <button
      type="button"
      onClick={onHead}
      title="The statement's head: dates, balances, totals"
      className="mt-0.5 flex w-full items-baseline justify-between border-t border-line pt-0.5 hover:bg-wine-soft"
    >
      <span>
        <b className="text-base">{spine.account.kind === "cash" ? "Counted" : "Closing"}</b>{" "}
        <span className={foots === "does not foot" ? "font-semibold text-ember" : "text-muted"}>{foots}</span>
      </span>
      <b className="figure text-base">
        {spine.strip.closing === null ? "not known" : write.amount(spine.strip.closing)}
      </b>
    </button>
  );
}

function BooksTotal({ spine }: { spine: Spine }) {
  const write = useWriting();
  const { strip } = spine;
  const off = strip.gl_balance === null ? 0 : strip.gl_balance - strip.book_balance;
  const formula = `Books at start ${write.amount(strip.book_start)}, in ${write.amount(strip.book_in.total)}, out ${write.amount(strip.book_out.total)}, at end ${write.amount(strip.book_balance)}`;
  return (
    <Link
      to={accountPath(spine.company_id, spine.account.id, "books")}
      title={formula}
      className="mt-0.5 flex items-baseline justify-between border-t border-line pt-0.5 hover:bg-wine-soft"
    >
      <span className="truncate">
        <b className="text-base">Book balance</b>{" "}
        <span className="text-muted">
          {strip.book_off ? `does not foot by ${write.amount(strip.book_off)}` : "foots"} ·{" "}
        </span>
        <span className={off ? "font-semibold text-ember" : "text-muted"}>
          {strip.gl_balance === null
            ? "ledger kept elsewhere"
            : off
              ? `ledger ${write.amount(strip.gl_balance)}`
              : "ledger agrees"}
        </span>
      </span>
      <b className="figure text-base">{write.amount(strip.book_balance)}</b>
    </Link>
  );
}

function Middle({ spine, locale, review, maySeal, onSeal, onView, onClues }: StripProps) {
  const write = useWriting();
  const { strip, seal, ring } = spine;
  const share = strip.lines_total ? Math.floor((100 * strip.lines_resolved) / strip.lines_total) : null;
  return (
    <div className="relative flex flex-col items-center justify-end border-x border-line bg-paper px-2 pb-1.5 text-center">
      <div className="absolute -top-9 rounded-full bg-paper p-px">
        <Ring ring={ring} size={64} />
        {ring.state === "in work" && share !== null && (
          <span className="absolute inset-0 flex items-center justify-center font-mono text-xs font-bold">
            {share}%
          </span>
        )}
      </div>
      {seal ? (
        <p className="text-xs">
          <b>Sealed</b> by {seal.sealed_by}
          <br />
          <span className="text-muted">{moment(seal.sealed_at, locale)}</span>
        </p>
      ) : (
        <>
          <button
            type="button"
            onClick={() => onView("to do")}
            data-testid="difference"
            title="Closing − opening − counted"
            className={`figure text-lg leading-5 font-bold ${strip.difference ? "text-ember" : "text-ink"}`}
          >
            {strip.difference === null ? "no closing" : write.amount(strip.difference)}
          </button>
          {spine.blockers.length === 0 && maySeal ? (
            <Button weight="main" shortcut="S" className="mt-1 w-full" onClick={onSeal}>
              {review ? "Hand in" : "Seal"} to {write.day(spine.closing_date)}
            </Button>
          ) : (
            <Split spine={spine} />
          )}
          {!!strip.difference && (
            <button type="button" className="min-h-6 text-xs font-semibold text-wine" onClick={onClues}>
              {spine.clues.length === 1 ? "1 clue" : `${spine.clues.length || "no"} clues`} <Key>C</Key>
            </button>
          )}
        </>
      )}
    </div>
  );
}

function Split({ spine }: { spine: Spine }) {
  const write = useWriting();
  const { strip } = spine;
  if (strip.ticking) {
    const left = (total: number | null, ticked: number) => (total === null ? null : total - ticked);
    const into = left(strip.total_in, strip.ticked_in.total);
    const out = left(strip.total_out, strip.ticked_out.total);
    return (
      <p className="text-xs leading-4 text-muted">
        {into === null && out === null
          ? "closing − opening − ticked"
          : `in ${into === null ? "–" : write.amount(into)} · out ${out === null ? "–" : write.amount(out)}`}
      </p>
    );
  }
  return (
    <p className="text-[0.71875rem] leading-4 text-muted">
      in {write.amount(strip.difference_in)} · out {write.amount(strip.difference_out)}
      {!!strip.rest && <span className="block text-ember">in no line {write.amount(strip.rest)}</span>}
      {strip.residual !== null && strip.residual !== strip.difference && (
        <span className="block">after proposals {write.amount(strip.residual)}</span>
      )}
    </p>
  );
}
