import { useState } from "react";
import { Link, useParams } from "react-router";

import { AccountPage } from "../../app/AccountPage";
import { accountPath, spinePath, type Place } from "../../app/places";
import { useCompany } from "../../app/session";
import { counted, longDay, moment, monthName } from "../../format/dates";
import { money } from "../../format/money";
import { Button, Empty, Key, Trouble } from "../../ui/controls";
import { Ring } from "../../ui/Ring";
import { useKeys } from "../spine/useKeys";
import { FindingPanel } from "./FindingPanel";
import { RepairAllDialog } from "./RepairAllDialog";
import { Landing, scaleOf, Stair, Through, type Step } from "./Stairs";
import {
  keyOf,
  plainRepair,
  useRepairs,
  useTrace,
  wantedOf,
  type Finding,
  type Mended,
  type Period,
  type Trace,
} from "./trace";

export function TracePage() {
  return <AccountPage>{(place) => <LoadedTrace key={place.account.id} place={place} />}</AccountPage>;
}

function LoadedTrace({ place }: { place: Place }) {
  const trace = useTrace(place);
  if (trace.error) return <Trouble>{trace.error.message}</Trouble>;
  if (!trace.data) return null;
  if (!trace.data.sealed_to) {
    return (
      <Empty title="Nothing is sealed yet">
        The opening trace tells what has changed in sealed periods. Bring the first one to zero and seal it.
      </Empty>
    );
  }
  return <Walk place={place} trace={trace.data} />;
}

const GRID = "grid grid-cols-[minmax(0,1fr)_398px_13.5rem]";
const ROW = 46;

/** Every finding with where its step starts and ends. */
function stepsOf(trace: Trace): Map<string, Step> {
  const steps = new Map<string, Step>();
  let at = 0;
  for (const period of trace.periods) {
    for (const finding of period.findings) {
      steps.set(keyOf(finding), { from: at, to: at + finding.net });
      at += finding.net;
    }
  }
  return steps;
}

function Walk({ place, trace }: { place: Place; trace: Trace }) {
  const { locale, rights } = useCompany(place.companyId);
  const { currency } = place.account;
  const may = rights.includes("prepare");
  const findings = trace.periods.flatMap((period) => period.findings);
  const [chosen, setChosen] = useState<string | null>(null);
  const [all, setAll] = useState(false);
  const { repair, undo } = useRepairs(place);
  const index = Math.max(
    0,
    findings.findIndex((finding) => keyOf(finding) === chosen),
  );
  const at = findings[index];
  const steps = stepsOf(trace);
  const scale = scaleOf([...steps.values()]);
  const write = (amount: number) => money(amount, currency, locale);
  const signed = (amount: number) => (amount > 0 ? `+${write(amount)}` : write(amount));
  const plain = findings.flatMap((finding) => {
    const found = plainRepair(finding);
    return found ? [wantedOf(finding, found)] : [];
  });
  const go = (by: number) => {
    const next = findings[Math.max(0, Math.min(findings.length - 1, index + by))];
    if (next) setChosen(keyOf(next));
  };
  const mend = (finding: Finding) => {
    const found = plainRepair(finding);
    if (may && found && !repair.isPending) repair.mutate([wantedOf(finding, found)]);
  };
  useKeys(
    {
      ArrowDown: () => go(1),
      ArrowUp: () => go(-1),
      Enter: () => at && mend(at),
      p: () => plain.length > 0 && may && setAll(true),
      z: () => may && undo.mutate(),
    },
    !all,
  );
  const running = (period: Period): number => {
    const first = period.findings[0];
    if (first) return steps.get(keyOf(first))?.from ?? 0;
    const before = trace.periods.slice(0, trace.periods.indexOf(period)).flatMap((p) => p.findings);
    const last = before.at(-1);
    return last ? (steps.get(keyOf(last))?.to ?? 0) : 0;
  };
  return (
    <div className="flex h-full">
      <main className="min-w-0 flex-1 overflow-auto px-6 pt-4 pb-6">
        <h1 className="text-xl font-bold">{headline(trace, write)}</h1>
        <p className="text-muted">{subline(trace)}</p>
        {trace.bank_gap && <BankGap place={place} gap={trace.bank_gap} signed={signed} />}
        <div role="list" aria-label="Stairs" className="mt-2">
          <div className={GRID}>
            <Ends title={`Sealed closing, ${longDay(trace.sealed_to ?? "", locale)}`}>
              {trace.bank_gap ? "the bank opens elsewhere: see above" : "the bank's opening is the same: no bank gap"}
            </Ends>
            <div className="border-x border-line">
              <Landing at={0} scale={scale} text={write(trace.sealed_closing)} />
            </div>
            <span />
          </div>
          {trace.periods.map((period) => (
            <PeriodSteps
              key={period.reconciliation_id}
              period={period}
              locale={locale}
              currency={currency}
              through={<Through at={running(period)} scale={scale} height={30} />}
              signed={signed}
            >
              {period.findings.map((finding) => (
                <FindingRow
                  key={keyOf(finding)}
                  finding={finding}
                  step={steps.get(keyOf(finding)) ?? { from: 0, to: 0 }}
                  scale={scale}
                  chosen={finding === at}
                  may={may}
                  busy={repair.isPending}
                  write={write}
                  locale={locale}
                  onChoose={() => setChosen(keyOf(finding))}
                  onMend={() => mend(finding)}
                />
              ))}
              {period.mended.map((mended) => (
                <MendedRow
                  key={`m${mended.id}`}
                  mended={mended}
                  locale={locale}
                  through={<Through at={running(period) + period.shift} scale={scale} height={ROW} />}
                  write={write}
                />
              ))}
            </PeriodSteps>
          ))}
          <div className={`${GRID} border-t border-line`}>
            <Ends title="The books count today">
              {trace.gap === 0 ? "the sealed closing, to the cent" : `${signed(trace.gap)}: exactly the steps above`}
            </Ends>
            <div className="border-x border-line">
              <Landing at={trace.gap} scale={scale} text={write(trace.counted_today)} foot off={trace.gap !== 0} />
            </div>
            <div className="flex items-center justify-end gap-2">
              {plain.length > 0 && may && (
                <Button shortcut="P" onClick={() => setAll(true)}>
                  {plain.length === 1 ? "Preview the repair" : `Preview all ${plain.length} repairs`}
                </Button>
              )}
            </div>
          </div>
        </div>
        {trace.ledger.length > 0 && <MovedLedger place={place} trace={trace} signed={signed} />}
        {may && trace.periods.length > 0 && (
          <p className="mt-3 flex items-center gap-2 text-muted">
            <Key>↑</Key>
            <Key>↓</Key> choose a finding <Key>Enter</Key> mend it <Key>Z</Key>
            <button type="button" className="text-wine" onClick={() => undo.mutate()}>
              take back my last repair
            </button>
          </p>
        )}
      </main>
      {at && <FindingPanel key={keyOf(at)} place={place} finding={at} may={may} repair={repair} />}
      {all && (
        <RepairAllDialog
          place={place}
          wanted={plain}
          findings={findings}
          onClose={() => setAll(false)}
          onRepair={() => {
            setAll(false);
            repair.mutate(plain);
          }}
        />
      )}
    </div>
  );
}

/** The ledger at sealed dates, where it is no longer what was sealed: by what it moved. */
function MovedLedger({ place, trace, signed }: { place: Place; trace: Trace; signed: (amount: number) => string }) {
  const { locale } = useCompany(place.companyId);
  const write = (amount: number) => money(amount, place.account.currency, locale);
  const newest = trace.ledger[0];
  const parts = [
    ...(newest?.came ?? []).map((entry) => ({
      key: `entry ${entry.entry_id}`,
      date: entry.date,
      to: accountPath(place.companyId, place.account.id, "books"),
      name: entry.reference || "entry",
      words: [entry.payee, entry.memo].filter(Boolean).join(" · "),
      amount: entry.amount,
    })),
    ...(newest?.postings ?? []).map((posting) => ({
      key: `journal ${posting.journal_entry_id}`,
      date: posting.date,
      to: `/company/${place.companyId}/journal?day=${posting.date}`,
      name: `journal ${posting.journal_entry_id}`,
      words: posting.memo + (posting.deleted ? " · deleted" : posting.was ? ` · was ${write(posting.was)}` : ""),
      amount: posting.now - posting.was,
    })),
  ];
  const cell = (amount: number) => <td className="figure py-1 text-right">{amount ? signed(amount) : "0"}</td>;
  return (
    <section className="mt-5" aria-label="The ledger at sealed dates">
      <h2 className="mb-1 font-bold">
        The ledger at sealed dates{" "}
        <span className="font-normal text-muted">
          what belongs there needs nothing; what does not is reversed in the open period, from its journal or the books
        </span>
      </h2>
      <table className="w-full border-collapse bg-sheet">
        <thead className="text-xs text-muted">
          <tr className="border-b border-line text-right">
            <th className="py-1 pl-3 text-left font-normal">Account {place.account.gl_number} at</th>
            <th className="font-normal">as sealed</th>
            <th className="font-normal">entries changed</th>
            <th className="font-normal">entries that came since</th>
            <th className="font-normal">straight to the account</th>
            <th className="pr-3 font-normal">now</th>
          </tr>
        </thead>
        <tbody>
          {trace.ledger.map((at) => (
            <tr key={at.reconciliation_id} className="border-b border-hair">
              <td className="pl-3">{longDay(at.closing_date, locale)}</td>
              <td className="figure text-right">{write(at.sealed)}</td>
              {cell(at.changed)}
              {cell(at.added)}
              {cell(at.straight)}
              <td className="figure pr-3 text-right font-bold">{write(at.now)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {parts.map(({ key, date, to, name, words, amount }) => (
        <p key={key} className="flex gap-3 border-b border-hair bg-sheet px-3 py-1 text-xs">
          <span className="w-24 text-muted">{longDay(date, locale)}</span>
          <Link className="w-28 text-wine" to={to}>
            {name}
          </Link>
          <span>{words}</span>
          <span className="figure ml-auto">{write(amount)}</span>
        </p>
      ))}
    </section>
  );
}

function headline(trace: Trace, write: (amount: number) => string): string {
  if (trace.gap) return `The books start ${write(Math.abs(trace.gap))} ${trace.gap > 0 ? "above" : "below"} the seal`;
  if (trace.open_findings) return "The opening stands, but sealed entries have changed";
  return trace.periods.length ? "The books start at the seal again" : "The books start at the seal";
}

function subline(trace: Trace): string {
  const mended = trace.periods.reduce(
    (sum, period) => sum + period.mended.length + period.findings.filter((f) => f.mended).length,
    0,
  );
  if (!trace.open_findings) {
    if (!mended && trace.ledger.length) return "Every sealed entry is as it was, but the ledger has moved: see below.";
    if (!mended) return "Nothing sealed has changed. Every sealed entry is as it was.";
    return `The gap is zero, and every seal is whole or accepted. ${counted(mended, "finding")} mended.`;
  }
  const stands = trace.open_findings === 1 ? "is no longer as it was sealed" : "are no longer as they were sealed";
  const rest = mended ? ` ${counted(mended, "finding")} mended already.` : "";
  return `${counted(trace.open_findings, "sealed entry", "sealed entries")} ${stands}.${rest}`;
}

function Ends({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <div className="py-1.5">
      <p className="font-bold">{title}</p>
      <p className="text-xs text-muted">{children}</p>
    </div>
  );
}

interface PeriodStepsProps {
  period: Period;
  locale: string;
  currency: string;
  through: React.ReactNode;
  signed: (amount: number) => string;
  children: React.ReactNode;
}

function PeriodSteps({ period, locale, through, signed, children }: PeriodStepsProps) {
  const companyId = Number(useParams().companyId);
  const open = period.findings.some((finding) => !finding.mended);
  const state = open ? "disturbed" : period.findings.length ? "accepted" : "sealed";
  const name = monthName(period.closing_date.slice(0, 7), locale).split(" ")[0] ?? "";
  return (
    <section aria-label={`${name}, sealed to ${longDay(period.closing_date, locale)}`}>
      <div className={`${GRID} items-center border-b border-line`}>
        <h2 className="flex items-center gap-2 truncate font-semibold text-wine">
          <Ring ring={{ state, done: 1, of: 1 }} size={20} />
          <Link className="truncate" to={spinePath(companyId, period.reconciliation_id)}>
            {name}, sealed {longDay(period.sealed_at.slice(0, 10), locale)} by {period.sealed_by}
          </Link>
        </h2>
        <div className="border-x border-line">{through}</div>
        <span className="figure pr-1 text-right text-xs text-muted">{period.shift ? signed(period.shift) : "0"}</span>
      </div>
      {children}
    </section>
  );
}

interface FindingRowProps {
  finding: Finding;
  step: Step;
  scale: (value: number) => number;
  chosen: boolean;
  may: boolean;
  busy: boolean;
  write: (amount: number) => string;
  locale: string;
  onChoose: () => void;
  onMend: () => void;
}

function FindingRow({ finding, step, scale, chosen, may, busy, write, locale, onChoose, onMend }: FindingRowProps) {
  const plain = plainRepair(finding);
  const tone = finding.net > 0 ? "up" : finding.net < 0 ? "down" : "flat";
  return (
    <div
      role="listitem"
      aria-current={chosen}
      data-kind={finding.kind}
      className={`${GRID} -mx-2 px-2 ${chosen ? "bg-wine-soft" : ""}`}
      onClick={onChoose}
    >
      <div className="min-w-0 py-1.5 pr-3">
        <p className="truncate">
          <button type="button" className="font-bold" onClick={onChoose}>
            {finding.mended ? "accepted" : finding.kind}
          </button>{" "}
          · {nameOf(finding)}
        </p>
        <p className="truncate text-xs text-muted">
          <Changed finding={finding} write={write} locale={locale} />
        </p>
      </div>
      <div className={`border-x border-line ${chosen ? "" : "bg-sheet"}`}>
        <Stair
          step={step}
          scale={scale}
          height={ROW}
          tone={tone}
          label={finding.net > 0 ? `+${write(finding.net)}` : write(finding.net)}
        />
      </div>
      <div className="flex items-center justify-end gap-1.5">
        {!finding.mended && may && plain && (
          <Button className="border-wine! font-semibold text-wine!" disabled={busy} onClick={onMend}>
            {capital(plain)}
          </Button>
        )}
        {!finding.mended && may && finding.repairs.includes("accept with entry") && (
          <Button onClick={onChoose}>Accept …</Button>
        )}
        {!finding.mended && may && finding.repairs.includes("note") && <Button onClick={onChoose}>Note …</Button>}
      </div>
    </div>
  );
}

export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

export function nameOf(finding: Finding): string {
  const values = finding.was ?? finding.now;
  if (!values) return "an entry";
  return [values.reference, values.payee || values.memo].filter(Boolean).join(" ") || "an entry without a text";
}

/** What was and what is, in one line. */
function Changed({ finding, write, locale }: { finding: Finding; write: (amount: number) => string; locale: string }) {
  const { was, now } = finding;
  if (finding.acceptance && finding.mended) {
    return (
      <>
        by {finding.acceptance.person}: “{finding.acceptance.reason}”
      </>
    );
  }
  const list = finding.list_shift ? ", in the outstanding list" : "";
  if (finding.kind === "slipped in" && now) {
    return <>dated {longDay(now.date, locale)}, cleared in there later</>;
  }
  if (!was) return null;
  if (finding.kind === "unticked") return <>{write(was.amount)}, no longer cleared</>;
  const gone = { removed: "gone", moved: "on another account" }[finding.kind as "removed" | "moved"];
  if (gone) {
    return (
      <>
        was <s>{write(was.amount)}</s> now <b>{gone}</b>
        {list}
      </>
    );
  }
  const field = finding.fields[0] as "amount" | "date" | "reference" | "payee" | "memo" | undefined;
  if (!now || !field) return null;
  const shown = (values: typeof was) =>
    field === "amount"
      ? write(values.amount)
      : field === "date"
        ? longDay(values.date, locale)
        : values[field] || "empty";
  return (
    <>
      {field === "amount" ? "" : `${field} `}was <s>{shown(was)}</s> now <b>{shown(now)}</b>
      {list}
    </>
  );
}

interface MendedRowProps {
  mended: Mended;
  locale: string;
  through: React.ReactNode;
  write: (amount: number) => string;
}

function MendedRow({ mended, locale, through, write }: MendedRowProps) {
  const { values } = mended;
  return (
    <div role="listitem" data-kind="mended" className={`${GRID} -mx-2 px-2 text-muted`}>
      <div className="min-w-0 py-1.5 pr-3">
        <p className="truncate">
          <b>mended</b> · {[values.reference, values.payee || values.memo].filter(Boolean).join(" ")}
        </p>
        <p className="truncate text-xs">
          was {mended.kind}, {mended.how} by {mended.person}, {moment(mended.at, locale)}
        </p>
      </div>
      <div className="border-x border-line bg-sheet">{through}</div>
      <span className="figure self-center pr-1 text-right text-xs">{write(values.amount)} again</span>
    </div>
  );
}

function BankGap({
  place,
  gap,
  signed,
}: {
  place: Place;
  gap: NonNullable<Trace["bank_gap"]>;
  signed: (n: number) => string;
}) {
  return (
    <section aria-label="Bank gap" className="mt-2 rounded-md border border-line bg-slate-soft px-3 py-2">
      <p>
        <b>The bank gap, apart from the stairs: {signed(gap.amount)}</b> · {gap.cause}
      </p>
      <p>{gap.text}</p>
      <Link className="font-semibold text-wine" to={accountPath(place.companyId, place.account.id, "statements")}>
        Statements of this account
      </Link>
    </section>
  );
}
