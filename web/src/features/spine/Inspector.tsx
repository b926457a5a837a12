import { useEffect, useState, type ReactNode } from "react";
import { Link } from "react-router";

import { accountPath } from "../../app/places";

import { moment } from "../../format/dates";
import { Button } from "../../ui/controls";
import { useEntry } from "../books/books";
import { EvidenceCard } from "../evidence/EvidenceCard";
import { useLine, type Desk, type Entry, type Line, type Row, type Spine } from "./api";
import { DateForm } from "./DateForm";
import { isCorrectable, sealedTo, type Fold, type Items } from "./rows";
import { AdjustForm, RecordForm, type Recording } from "./RecordForm";
import { ReverseForm, type Reversal } from "./ReverseForm";
import { SettleForm } from "./SettleForm";
import { useWriting } from "./writing";

interface InspectorProps {
  hidden: boolean;
  spine: Spine;
  items: Items;
  row: Row | undefined;
  fold: Fold | undefined;
  sub: number;
  locale: string;
  may: boolean;
  /** Evidence may be added to what is sealed, too. */
  mayKeep: boolean;
  onOriginal: (statementId: number) => void;
  busy: boolean;
  onAccept: () => void;
  onUnmatch: () => void;
  desk: Desk;
  onRecord: (recording: Recording) => void;
  onReverse: (reversal: Reversal) => void;
  onSettle: (items: number[], writeOff: number | null) => void;
  onTick: () => void;
  onAdjust: (account: number, payee: string, memo: string) => void;
  onBankError: () => void;
  onRemove: (entryId: number) => void;
  onCorrectGroup: (entry: number) => void;
  onEdit: (entryId: number) => void;
  onDate: (date: string) => void;
}

/** The selected row: why it stands as it does, what can be done, what lies behind it. */
export function Inspector(props: InspectorProps) {
  const { row, items } = props;
  const settled = useSettled(row?.key) === row?.key;
  const line = items.lines.get(row?.lines[Math.min(props.sub, row.lines.length - 1)] ?? -1);
  const entry = items.entries.get(row?.entries[Math.min(props.sub, row.entries.length - 1)] ?? -1);
  return (
    <aside
      aria-label="Inspector"
      hidden={props.hidden}
      className="w-[304px] shrink-0 flex-col gap-3 overflow-auto border-l border-line bg-paper p-4 not-[[hidden]]:flex"
    >
      {row ? (
        <>
          <h2 className="text-base font-bold">{titleOf(row, line, entry)}</h2>
          <Standing {...props} row={row} line={line} entry={entry} />
          {settled && line && (
            <EvidenceCard
              key={`le${line.id}`}
              holder={{ companyId: props.spine.company_id, entity: "line", id: line.id }}
              locale={props.locale}
              may={props.mayKeep}
            />
          )}
          {settled && entry && !line && (
            <EvidenceCard
              key={`ee${entry.id}`}
              holder={{ companyId: props.spine.company_id, entity: "entry", id: entry.id }}
              locale={props.locale}
              may={props.mayKeep}
            />
          )}
          {settled && entry && (
            <BooksBehind key={`e${entry.id}`} companyId={props.spine.company_id} entry={entry} {...props} />
          )}
          {settled && line && (
            <BankBehind
              key={`l${line.id}`}
              companyId={props.spine.company_id}
              line={line}
              onOriginal={props.onOriginal}
            />
          )}
        </>
      ) : props.fold ? (
        <FoldBehind fold={props.fold} />
      ) : (
        <p className="text-muted">Choose a row with ↑ and ↓.</p>
      )}
    </aside>
  );
}

/** A value once it has rested for a moment: what lies behind a row is asked for where the cursor stops. */
function useSettled<T>(value: T): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const later = setTimeout(() => setSettled(value), 120);
    return () => clearTimeout(later);
  }, [value]);
  return settled;
}

/** What a folded run of matched rows holds: sums per side, and by which pass. */
function FoldBehind({ fold }: { fold: Fold }) {
  const write = useWriting();
  const by = new Map<string, number>();
  for (const row of fold.rows) {
    const name = row.decision?.by ?? "by hand or by rule";
    by.set(name, (by.get(name) ?? 0) + 1);
  }
  return (
    <>
      <h2 className="text-base font-bold">{fold.rows.length} rows matched</h2>
      <Card title="Sums, the same on both sides">
        <Pair name="In">
          <span className="figure">{write.amount(fold.bankIn)}</span>
        </Pair>
        <Pair name="Out">
          <span className="figure">{write.amount(fold.bankOut)}</span>
        </Pair>
      </Card>
      <Card title="Matched by">
        {[...by].map(([name, count]) => (
          <Pair key={name} name={name}>
            <span className="figure">{count}</span>
          </Pair>
        ))}
        <p className="mt-1 text-muted">O unfolds them; each row says why.</p>
      </Card>
    </>
  );
}

function titleOf(row: Row, line: Line | undefined, entry: Entry | undefined): string {
  const name = entry?.payee || entry?.memo || line?.description || "";
  const reference = entry?.reference || line?.reference;
  const about = reference ? `${reference} · ${name}` : name;
  return about || row.kind;
}

export function Card({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="rounded-lg border border-line bg-sheet px-3 py-2.5">
      <h3 className="mb-1 text-xs font-semibold text-muted">{title}</h3>
      {children}
    </section>
  );
}

function Pair({ name, children }: { name: string; children: ReactNode }) {
  return (
    <p className="flex justify-between gap-3 py-0.5">
      <span className="text-muted">{name}</span>
      <span className="min-w-0 text-right break-words">{children}</span>
    </p>
  );
}

/** Open lines with the same text but for its numbers. */
function alikeTo(line: Line, spine: Spine): number[] {
  const key = (text: string) => text.toLowerCase().replace(/[^a-z]+/g, " ");
  const open = new Set(spine.rows.filter((row) => row.kind === "line").flatMap((row) => row.lines));
  return spine.lines
    .filter(({ id, description }) => id !== line.id && open.has(id) && key(description) === key(line.description))
    .map(({ id }) => id);
}

type StandingProps = InspectorProps & { row: Row; line: Line | undefined; entry: Entry | undefined };

function Standing(props: StandingProps) {
  const { row, line, entry, locale, may, busy } = props;
  if (row.decision) {
    const { decision } = row;
    return (
      <Card title={decision.by ? "Matched by the passes" : "Decided by hand or by rule"}>
        <p>{decision.why}</p>
        {row.changed && (
          <p className="text-ember">
            Something here is no longer as it was sealed.{" "}
            <Link
              className="font-semibold text-wine"
              to={accountPath(props.spine.company_id, props.spine.account.id, "trace")}
            >
              Opening trace
            </Link>
          </p>
        )}
        {row.far && row.days !== null && (
          <p className="mt-1 text-slate">{Math.abs(row.days)} days lie between book and bank.</p>
        )}
        {row.far && may && line && entry && row.entries.length === 1 && entry.date > sealedTo(props.spine) && (
          <DateForm key={entry.id} from={entry.date} to={line.date} busy={busy} onSave={props.onDate} />
        )}
        <p className="mt-1 text-xs text-muted">
          {decision.by ? `${decision.by} · ${decision.confidence ?? 0}% sure · ` : ""}
          {decision.made_by}, {moment(decision.made_at, locale)}
        </p>
        {may && (
          <Button shortcut="U" className="mt-2 w-full" disabled={busy} onClick={props.onUnmatch}>
            {row.kind === "ticked" ? "Untick" : "Unmatch"}
          </Button>
        )}
      </Card>
    );
  }
  if (row.proposal) return <Offer {...props} proposal={row.proposal} />;
  if (row.kind === "question") return <Question {...props} />;
  if (row.kind === "line" && line && may) {
    return (
      <>
        <RecordForm
          key={line.id}
          desk={props.desk}
          row={row}
          line={line}
          currency={props.spine.account.currency}
          alike={alikeTo(line, props.spine)}
          busy={busy}
          onRecord={props.onRecord}
        />
        <SettleForm desk={props.desk} line={line} busy={busy} onSettle={props.onSettle} />
        <Button shortcut="B" disabled={busy} onClick={props.onBankError}>
          Keep it as a bank error
        </Button>
      </>
    );
  }
  if (row.kind === "outstanding" && entry) {
    return (
      <Card title={props.spine.strip.ticking ? "Not on the statement yet" : "Not at the bank"}>
        <p>
          {entry.age_kind}, {entry.age} days at the period's end.
        </p>
        {entry.stale && (
          <p className="mt-1 text-ember">
            Stale, past {entry.stale}:{" "}
            {entry.age_kind === "check"
              ? "a bank need not pay it any more. Ask the payee."
              : entry.age_kind === "payment"
                ? "was it ever sent? If not, reverse it."
                : "was it ever taken to the bank?"}
          </p>
        )}
        {props.spine.strip.ticking && may && (
          <Button weight="main" shortcut="Enter" className="mt-2 w-full" disabled={busy} onClick={props.onTick}>
            Tick
          </Button>
        )}
        {may && (
          <ReverseForm
            key={entry.id}
            entry={entry}
            end={props.spine.closing_date}
            busy={busy}
            onReverse={props.onReverse}
          />
        )}
      </Card>
    );
  }
  return null;
}

type OfferProps = StandingProps & { proposal: NonNullable<Row["proposal"]> };

/** What is offered, why, and the cures: match, correct the entry, or post the difference. */
function Offer(props: OfferProps) {
  const { row, line, entry, proposal, may, busy } = props;
  const write = useWriting();
  const main = (words: string) =>
    may && (
      <Button weight="main" shortcut="Enter" disabled={busy} onClick={props.onAccept}>
        {words}
      </Button>
    );
  if (proposal.kind === "doubled" && entry) {
    return (
      <Card title="Twice in the books">
        <p className="mb-2">{proposal.why}.</p>
        {may && (
          <Button weight="main" shortcut="Enter" className="w-full" disabled={busy} onClick={props.onAccept}>
            Take this one out of the books
          </Button>
        )}
      </Card>
    );
  }
  if (proposal.kind === "bank correction") {
    return (
      <Card title="The bank's own correction">
        <p className="mb-2">{proposal.why}.</p>
        {main("It corrects that error")}
      </Card>
    );
  }
  if (!line || !entry) {
    return (
      <Card title="A wash">
        <p className="mb-2">{proposal.why}.</p>
        {main("Wash these")}
      </Card>
    );
  }
  return (
    <>
      <Compare row={row} line={line} entry={entry} />
      {proposal.difference === 0 && main("Match these")}
      {isCorrectable(row) && main(`Correct the entry to ${write.amount(line.amount)}`)}
      {isCorrectable(row) && (
        <p className="text-xs text-muted">
          The entry's journal follows; its history keeps the old amount. Z takes it back.
        </p>
      )}
      {proposal.difference !== 0 && row.entries.length > 1 && may && (
        <Card title="Or one of them is wrong: correct it">
          {row.entries.map((id) => {
            const one = props.items.entries.get(id);
            const amount = (one?.amount ?? 0) + proposal.difference;
            if (!one || amount === 0 || amount < 0 !== one.amount < 0) return null;
            return (
              <Button key={id} className="mt-1 w-full" disabled={busy} onClick={() => props.onCorrectGroup(id)}>
                {[one.reference, one.payee].filter(Boolean).join(" ")}: {write.amount(one.amount)} to{" "}
                {write.amount(amount)}
              </Button>
            );
          })}
        </Card>
      )}
      {proposal.difference !== 0 && may && (
        <AdjustForm
          key={row.key}
          companyId={props.spine.company_id}
          fee={proposal.kind === "net of fee"}
          amount={proposal.difference}
          payee={entry.payee}
          busy={busy}
          onAdjust={props.onAdjust}
        />
      )}
    </>
  );
}

function Question({ row, sub, may, busy, onAccept, onRemove }: StandingProps) {
  const even = row.lines.length === row.entries.length;
  const pointed = row.entries[Math.min(sub, row.entries.length - 1)];
  return (
    <Card title="A question">
      <p>{row.question}</p>
      <p className="mt-1 text-muted">
        Nothing tells them apart. {even ? "" : "Go to the right one with ↓. "}Or choose with Space, ← and →, and match
        with M; or go on with N and leave them open.
      </p>
      {may && (
        <div className="mt-2 space-y-1.5">
          <Button weight="main" shortcut="Enter" className="w-full" disabled={busy} onClick={onAccept}>
            {even ? "Pair in date order" : "This entry belongs to the line"}
          </Button>
          {row.entries.length > row.lines.length && pointed !== undefined && (
            <Button shortcut="X" className="w-full" disabled={busy} onClick={() => onRemove(pointed)}>
              This entry is a mistake: take it out
            </Button>
          )}
        </div>
      )}
    </Card>
  );
}

/** Bank and books one above the other, the digits that differ marked. */
function Compare({ row, line, entry }: { row: Row; line: Line; entry: Entry }) {
  const write = useWriting();
  const bank = write.amount(line.amount);
  const sum = row.entries.length > 1 ? null : write.amount(entry.amount);
  return (
    <Card title="Compare">
      <Pair name={`Bank, ${write.day(line.date)}`}>
        <Digits text={bank} other={sum} />
      </Pair>
      {sum === null ? (
        <Pair name={`Books, ${row.entries.length} entries`}>
          <span className="figure">{write.amount(line.amount - (row.proposal?.difference ?? 0))}</span>
        </Pair>
      ) : (
        <Pair name={`Books, ${write.day(entry.date)}`}>
          <Digits text={sum} other={bank} />
        </Pair>
      )}
      <Pair name="Bank − books">
        <b className="figure">{write.amount(row.proposal?.difference ?? 0)}</b>
      </Pair>
      <p className="mt-1 text-muted">{row.proposal?.why}.</p>
    </Card>
  );
}

function Digits({ text, other }: { text: string; other: string | null }) {
  if (!other || other.length !== text.length) return <span className="figure">{text}</span>;
  return (
    <span className="figure">
      {Array.from(text).map((char, index) => (
        <span key={index} className={char === other[index] ? "" : "rounded-sm bg-ember-soft font-bold text-ember"}>
          {char}
        </span>
      ))}
    </span>
  );
}

interface BankBehindProps {
  companyId: number;
  line: Line;
  onOriginal: (statementId: number) => void;
}

function BankBehind({ companyId, line, onOriginal }: BankBehindProps) {
  const detail = useLine(companyId, line.id);
  if (!detail.data) return null;
  const { statement } = detail.data;
  return (
    <Card title="Bank record">
      <Pair name="Id">
        <span className="figure text-xs">{detail.data.bank_id ?? "none"}</span>
      </Pair>
      <Pair name="Kind">{detail.data.kind}</Pair>
      <Pair name="Text">{detail.data.description}</Pair>
      <Pair name="Line">
        {detail.data.position} of {statement.file_name ?? "the statement"}
      </Pair>
      {statement.file_name && (
        <Button shortcut="V" className="mt-1 w-full" onClick={() => onOriginal(statement.id)}>
          Original beside the Spine
        </Button>
      )}
    </Card>
  );
}

const WHAT: Record<string, string> = {
  "entry typed": "Entered by hand",
  "entry imported": "Imported",
  "entry recorded": "Recorded from the statement",
  "entry changed": "Changed",
  "entry deleted": "Deleted",
  "entry brought back": "Brought back",
};

function BooksBehind({
  companyId,
  entry,
  locale,
  may,
  row,
  onEdit,
}: InspectorProps & { companyId: number; entry: Entry }) {
  const write = useWriting();
  const detail = useEntry(companyId, entry.id);
  if (!detail.data) return null;
  const { journal, history, journal_id, settled, links } = detail.data;
  return (
    <>
      <Card title={journal_id ? `In the ledger · journal ${journal_id}` : "In the ledger"}>
        {journal.map((part) => (
          <p key={part.account} className="flex justify-between gap-3 py-0.5">
            <span>
              <b className="figure">{part.account}</b> {part.name}
            </span>
            <span className="figure">{write.amount(part.amount)}</span>
          </p>
        ))}
        {!journal.length && (
          <p className="text-muted">No journal of its own: a starting item, or the ledger is kept elsewhere.</p>
        )}
      </Card>
      {links.length > 0 && (
        <Card title="Belongs with">
          {links.map((link) => (
            <p key={link.entry_id}>
              {link.entry_id === entry.id
                ? link.kind === "reverses"
                  ? "It takes another entry back"
                  : "It stands in another entry's place"
                : link.kind === "reverses"
                  ? "It was taken back"
                  : "Another stands in its place"}
              : {link.reason}.
            </p>
          ))}
        </Card>
      )}
      {settled.length > 0 && (
        <Card title="It settled">
          {settled.map((part) => (
            <Pair key={part.number} name={`${part.number} ${part.party}`}>
              <span className="figure">{write.amount(part.amount)}</span>
              {part.open > 0 && <span className="block text-xs text-muted">{write.amount(part.open)} still open</span>}
            </Pair>
          ))}
        </Card>
      )}
      <Card title="History">
        {history.map((event) => (
          <p key={event.at + event.what} className="py-0.5">
            {WHAT[event.what] ?? event.what} by {event.user}{" "}
            <span className="text-xs text-muted">{moment(event.at, locale)}</span>
            {event.before && event.after && <Changes before={event.before} after={event.after} />}
          </p>
        ))}
        {!history.length && <p className="text-muted">Outstanding when the account was started.</p>}
        {may && row && !row.decision && (
          <Button shortcut="E" className="mt-2 w-full" onClick={() => onEdit(entry.id)}>
            Change the entry
          </Button>
        )}
      </Card>
    </>
  );
}

type Values = Record<string, string | number | null>;

function Changes({ before, after }: { before: Values; after: Values }) {
  const write = useWriting();
  const text = (name: string, value: string | number | null | undefined) =>
    name === "amount" && typeof value === "number" ? write.amount(value) : (value ?? "");
  return (
    <>
      {Object.keys(after)
        .filter((name) => before[name] !== after[name])
        .map((name) => (
          <span key={name} className="block text-xs">
            {name}: <s className="text-muted">{text(name, before[name])}</s> {text(name, after[name])}
          </span>
        ))}
    </>
  );
}
