import { useEffect, useMemo, useReducer, useRef, useState } from "react";

import { Link, useSearchParams } from "react-router";

import { accountPath, spinePath, type Place as AccountPlace } from "../../app/places";
import { useCompany } from "../../app/session";
import { longDay } from "../../format/dates";
import { Button, Empty } from "../../ui/controls";
import { EntryDialog } from "../books/EntryDialog";
import { OriginalView } from "../evidence/OriginalView";
import { LessonsDialog } from "../teaching/LessonsDialog";
import { HeadDialog } from "../statements/HeadDialog";
import { correctHead, useRefresh } from "../statements/statements";
import { partsGiven, partsOf } from "../coding/parts";
import { useAction, type Action, type Clue, type Desk, type Row, type Spine } from "./api";
import { CluesDialog, KeysDialog, PassesDialog, SealDialog } from "./Dialogs";
import { Inspector } from "./Inspector";
import { answerOf, isCorrectable, isDecided, itemsOf, sealedTo, shownRows, viewCounts, type Shown } from "./rows";
import { SelectionBar, selectionSums } from "./SelectionBar";
import { SpineTable } from "./SpineTable";
import { COLUMNS } from "./SpineRow";
import { recall, reduce, useKeeping, type Side } from "./state";
import { StandingBar } from "./StandingBar";
import { Strip } from "./Strip";
import { offeredViews, Toolbar } from "./Toolbar";
import { useKeys, type Keys } from "./useKeys";

type Open = "passes" | "clues" | "seal" | "head" | "lessons" | { entry: number } | null;

interface WorkplaceProps {
  desk: Desk;
  spine: Spine;
  place: AccountPlace;
  help: boolean;
  onHelp: (open: boolean) => void;
}

const PAGE = 15;

/** The Spine at work: table, strip, inspector, and the keys that drive them. */
export function Workplace({ desk, spine, place: account, help, onHelp }: WorkplaceProps) {
  const company = useCompany(desk.companyId);
  const frozen = spine.seal !== null || spine.stage === "in review";
  const may = company.rights.includes("prepare") && !frozen;
  const [place, move] = useReducer(reduce, desk.reconciliationId, recall);
  const [open, setOpen] = useState<Open>(null);
  const [original, setOriginal] = useState<number | null>(null);
  const action = useAction(desk);
  const refresh = useRefresh();
  const search = useRef<HTMLInputElement>(null);
  const items = useMemo(() => itemsOf(spine), [spine]);
  const { view, sort, groups, search: typed, unfolded } = place;
  const shown = useMemo(
    () => shownRows(spine, items, { view, sort, groups, search: typed, unfolded }),
    [spine, items, view, sort, groups, typed, unfolded],
  );
  const counts = useMemo(() => viewCounts(spine, items), [spine, items]);
  const places = useMemo(() => placesOf(shown), [shown]);
  const index = cursorIndex(shown, places, place.cursor, place.index);
  const [query] = useSearchParams();
  const asked = Number(query.get("entry") ?? 0);
  useEffect(() => {
    const found = asked ? spine.rows.find((item) => item.entries.includes(asked)) : undefined;
    if (found) move({ type: "unfold", keys: [found.key] });
    // Only on arrival: later changes of the rows leave the cursor where the person put it.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [asked]);
  useKeeping(desk.reconciliationId, place);

  const at = shown[index];
  const row = at?.kind === "row" ? at.row : undefined;
  const selected = place.lines.size + place.entries.size > 0;
  const { ticking } = spine.strip;

  const go = (to: number, sub = 0) => {
    const target = shown[Math.max(0, Math.min(shown.length - 1, to))];
    if (target) move({ type: "cursor", cursor: target.key, sub, index: shown.indexOf(target) });
  };
  const down = () => {
    if (row?.kind === "question" && place.sub + 1 < (at?.height ?? 1)) go(index, place.sub + 1);
    else go(index + 1);
  };
  const up = () => {
    const above = shown[index - 1];
    if (row?.kind === "question" && place.sub > 0) go(index, place.sub - 1);
    else go(index - 1, above?.kind === "row" && above.row.kind === "question" ? above.height - 1 : 0);
  };
  const nextOpen = () => {
    const order = [...shown.keys()].map((n) => (n + index + 1) % shown.length);
    const found = order.find((n) => needsPerson(shown[n]));
    if (found !== undefined) go(found);
  };
  /** Decides, and goes on to what needs a person next. */
  const decide = (what: Action) => {
    action.mutate(what);
    if (ticking) down();
    else nextOpen();
  };
  const match = () => {
    const lines = [...place.lines];
    const entries = [...place.entries];
    const { bank, books } = selectionSums(place, items);
    if (ticking) decide({ do: "tick", entries });
    else if (bank === books) decide({ do: "match", lines, entries });
    else return;
    move({ type: "clear" });
  };
  const accept = () => {
    if (!row || !may) return;
    if (selected) {
      match();
      return;
    }
    const [line, entry] = [row.lines[0] ?? 0, row.entries[0] ?? 0];
    if (row.kind === "proposal" && row.proposal) {
      if (row.proposal.kind === "doubled") remove(entry);
      else if (row.proposal.kind === "bank correction") decide({ do: "bank correction", line });
      else if (isCorrectable(row)) decide({ do: "correct", line, entry });
      else if (row.proposal.difference) adjust();
      else decide({ do: "match", lines: row.lines, entries: row.entries });
    } else if (row.kind === "question") {
      decide({ do: "pair", pairs: answerOf(row, place.sub) });
    } else if (row.kind === "outstanding" && ticking) {
      decide({ do: "tick", entries: row.entries });
    } else if (row.kind === "line") {
      if (row.settles) settle();
      else record();
    }
  };
  /** To the form that settles, once it has come: Enter there does it, after a look at what is ticked. */
  const settle = (tries = 40) => {
    const form = document.querySelector<HTMLElement>(`[data-settle="${row?.lines[0] ?? 0}"]`);
    const place = form?.querySelector<HTMLElement>("button[type=submit]:not([disabled]), select");
    if (place) place.focus();
    else if (tries > 0) setTimeout(() => settle(tries - 1), 50);
  };
  const remove = (entry: number) => may && decide({ do: "remove", account: spine.account.id, entry });
  const adjust = () => document.querySelector<HTMLElement>("[data-adjust] select")?.focus();
  const showClue = (clue: Clue) => {
    setOpen(null);
    const found = spine.rows.find(
      (item) =>
        item.lines.some((id) => clue.lines.includes(id)) || item.entries.some((id) => clue.entries.includes(id)),
    );
    if (found) {
      move({ type: "view", view: "all" });
      move({ type: "unfold", keys: [found.key] });
    }
  };
  /** Ticks every open entry in view: all of them, those found, or all up to a date. */
  const tickShown = () => {
    const entries = shown.flatMap((item) =>
      item.kind === "row" && item.row.kind === "outstanding" ? item.row.entries : [],
    );
    if (entries.length) action.mutate({ do: "tick", entries });
  };
  const record = () => {
    if (row?.kind !== "line" || !may) return;
    const line = items.lines.get(row.lines[0] ?? 0);
    const parts =
      row.suggestion && line ? partsGiven(partsOf(row.suggestion), line.amount, spine.account.currency) : null;
    if (row.suggestion && line && parts && !row.suggestion.conflict.length) {
      const { payee, memo, rule_id } = row.suggestion;
      decide({ do: "record", recording: { lines: [line.id], parts, payee, memo: memo || line.description, rule_id } });
    } else {
      document.querySelector<HTMLElement>("[data-record] select")?.focus();
    }
  };
  const unmatch = () => row?.decision && may && action.mutate({ do: "unmatch", decisions: [row.decision.id] });
  const toggle = () => row && may && !isDecided(row) && move({ type: "toggle", row, sub: place.sub, side: place.side });
  const fold = () => {
    if (at?.kind === "fold") move({ type: "unfold", keys: at.rows.map((r) => r.key) });
    else if (row && isDecided(row)) move({ type: "fold", keys: runAround(shown, index) });
  };

  const keys: Keys = {
    ArrowDown: down,
    ArrowUp: up,
    PageDown: () => go(index + PAGE),
    PageUp: () => go(index - PAGE),
    Home: () => go(0),
    End: () => go(shown.length - 1),
    ArrowLeft: () => move({ type: "side", side: place.side === "bank" ? "both" : "bank" }),
    ArrowRight: () => move({ type: "side", side: place.side === "books" ? "both" : "books" }),
    Enter: () => (at?.kind === "fold" ? fold() : accept()),
    " ": () => {
      toggle();
      down();
    },
    Escape: () => move({ type: "clear" }),
    m: () => selected && may && match(),
    u: () => unmatch(),
    t: () => ticking && accept(),
    r: record,
    o: fold,
    n: nextOpen,
    e: () =>
      row && may && !row.decision && row.entries[0] && setOpen({ entry: row.entries[place.sub] ?? row.entries[0] }),
    p: () => may && !ticking && setOpen("passes"),
    z: () => may && spine.undo && action.mutate({ do: "undo" }),
    y: () => may && spine.redo && action.mutate({ do: "redo" }),
    s: () => maySeal && spine.blockers.length === 0 && setOpen("seal"),
    a: () => row?.kind === "proposal" && adjust(),
    d: () => document.querySelector<HTMLElement>("[data-date] input")?.focus(),
    b: () => row?.kind === "line" && may && decide({ do: "bank error", line: row.lines[0] ?? 0 }),
    c: () => spine.strip.difference && setOpen("clues"),
    x: () => {
      const extra = row?.kind === "question" ? row.entries[place.sub] : undefined;
      if (extra !== undefined) remove(extra);
    },
    v: () => setOriginal(original === null ? (spine.statements.find((s) => s.file_name)?.id ?? null) : null),
    "/": () => search.current?.focus(),
    "?": () => onHelp(true),
  };
  offeredViews(spine).forEach((name, n) => {
    keys[String(n + 1)] = () => move({ type: "view", view: name });
  });
  const maySeal = !frozen && company.rights.includes(company.review ? "prepare" : "seal");
  useKeys(keys, open === null && !help);

  const pick = (picked: Row, sub: number, side: Side, select: boolean) => {
    move({ type: "cursor", cursor: picked.key, sub, index: shown.findIndex((item) => item.key === picked.key) });
    if (select && may && !isDecided(picked)) move({ type: "toggle", row: picked, sub, side });
  };
  const statement = spine.statements.at(-1);
  const trouble = spine.blockers.filter(({ kind }) => !["unresolved", "difference"].includes(kind));
  return (
    <div className="flex h-full">
      <div className="flex min-w-0 flex-1 flex-col">
        <Toolbar
          spine={spine}
          place={place}
          counts={counts}
          search={search}
          may={may}
          onView={(next) => move({ type: "view", view: next })}
          onSort={(next) => move({ type: "sort", sort: next })}
          onGroups={(next) => move({ type: "groups", groups: next })}
          onSearch={(text) => move({ type: "search", search: text })}
          onPasses={() => setOpen("passes")}
          onTickShown={tickShown}
          onUndo={() => action.mutate({ do: "undo" })}
        />
        <StandingBar desk={desk} spine={spine} row={row} />
        {trouble.map((blocker) => (
          <p
            key={blocker.text}
            role="alert"
            className="flex shrink-0 items-center gap-3 border-b border-line bg-ember-soft px-3 py-1.5"
          >
            <span className="flex-1">{blocker.text}</span>
            <Cure kind={blocker.kind} spine={spine} onHead={() => setOpen("head")} />
          </p>
        ))}
        <div className={`${COLUMNS} h-[26px] shrink-0 items-center border-b border-line text-xs text-muted`}>
          <span className="truncate px-3">{bankHead(spine, company.locale)}</span>
          <span className="text-center">spine</span>
          <span className="truncate px-3 text-right">
            Bank book · {spine.account.gl_number} {spine.account.name}
          </span>
        </div>
        {shown.length ? (
          <SpineTable
            shown={shown}
            items={items}
            place={place}
            index={index}
            onPick={pick}
            onFold={(picked) => move({ type: "unfold", keys: picked.rows.map((r) => r.key) })}
          />
        ) : (
          <div className="min-h-0 flex-1 bg-sheet">
            <Nothing spine={spine} filtered={view !== "all" || typed !== ""} />
          </div>
        )}
        {selected && (
          <SelectionBar
            place={place}
            items={items}
            ticking={ticking}
            busy={action.isPending}
            onMatch={match}
            onClear={() => move({ type: "clear" })}
          />
        )}
        <Strip
          spine={spine}
          locale={company.locale}
          review={company.review}
          maySeal={maySeal}
          onView={(next) => move({ type: "view", view: next })}
          onSeal={() => setOpen("seal")}
          onHead={() => may && setOpen("head")}
          onClues={() => setOpen("clues")}
        />
      </div>
      {original !== null && (
        <aside
          aria-label="Original"
          className="flex w-[480px] shrink-0 flex-col gap-2 overflow-auto border-l border-line bg-paper p-4"
        >
          <Button shortcut="V" onClick={() => setOriginal(null)}>
            Close the original
          </Button>
          <OriginalView companyId={desk.companyId} statementId={original} />
        </aside>
      )}
      <Inspector
        hidden={original !== null}
        mayKeep={company.rights.includes("prepare")}
        onOriginal={setOriginal}
        spine={spine}
        items={items}
        row={row}
        fold={at?.kind === "fold" ? at : undefined}
        sub={place.sub}
        locale={company.locale}
        may={may}
        busy={action.isPending}
        onAccept={accept}
        onUnmatch={unmatch}
        onTick={accept}
        desk={desk}
        onReverse={(reversal) => action.mutate({ do: "reverse", reversal })}
        onSettle={(picked, writeOff) =>
          row && decide({ do: "settle", line: row.lines[0] ?? 0, items: picked, writeOff })
        }
        onRecord={(recording) => decide({ do: "record", recording })}
        onAdjust={(account, payee, memo) =>
          row && decide({ do: "adjust", lines: row.lines, entries: row.entries, account, payee, memo })
        }
        onDate={(date) => row?.entries[0] && action.mutate({ do: "correct date", entry: row.entries[0], date })}
        onBankError={() => row && decide({ do: "bank error", line: row.lines[0] ?? 0 })}
        onRemove={remove}
        onCorrectGroup={(entry) =>
          row && decide({ do: "correct group", lines: row.lines, entries: row.entries, entry })
        }
        onEdit={(entry) => setOpen({ entry })}
      />
      {open === "passes" && (
        <PassesDialog
          desk={desk}
          items={items}
          onClose={() => setOpen(null)}
          sealed={sealedTo(spine)}
          onLessons={() => setOpen("lessons")}
          onDate={(entry, date) => action.mutate({ do: "correct date", entry, date })}
          onApply={(only) => {
            setOpen(null);
            action.mutate({ do: "passes", only });
            move({ type: "cursor", cursor: "", sub: 0, index: 0 });
          }}
        />
      )}
      {open === "lessons" && (
        <LessonsDialog companyId={desk.companyId} account={spine.account} onClose={() => setOpen("passes")} />
      )}
      {open === "clues" && <CluesDialog spine={spine} onShow={showClue} onClose={() => setOpen(null)} />}
      {open === "seal" && (
        <SealDialog
          spine={spine}
          review={company.review}
          locale={company.locale}
          onClose={() => setOpen(null)}
          onSeal={() => {
            setOpen(null);
            action.mutate({ do: company.review ? "hand in" : "seal" });
          }}
        />
      )}
      {open === "head" && statement && (
        <HeadDialog
          title="Correct the statement's head"
          currency={spine.account.currency}
          counted={statement.format === "counted"}
          known={{ ...statement, opening: statement.opening_derived ? null : statement.opening }}
          onClose={() => setOpen(null)}
          onSave={async (head) => {
            await correctHead(desk.companyId, statement.id, head);
            await refresh();
          }}
        />
      )}
      {open !== null && typeof open === "object" && (
        <EntryDialog place={account} entryId={open.entry} onClose={() => setOpen(null)} />
      )}
      {help && <KeysDialog onClose={() => onHelp(false)} />}
    </div>
  );
}

function needsPerson(item: Shown | undefined): boolean {
  return item?.kind === "row" && ["line", "proposal", "question"].includes(item.row.kind);
}

/** The cursor's place: at first the first row that needs a person; when its row is gone, the row that has come to stand there. */
function cursorIndex(shown: Shown[], places: ReadonlyMap<string, number>, cursor: string, last: number): number {
  if (cursor === "") return Math.max(0, shown.findIndex(needsPerson));
  return places.get(cursor) ?? Math.max(0, Math.min(last, shown.length - 1));
}

/** Where each row stands in the table, folded ones with their fold. */
function placesOf(shown: Shown[]): ReadonlyMap<string, number> {
  const places = new Map<string, number>();
  shown.forEach((item, n) => {
    places.set(item.key, n);
    if (item.kind === "fold") for (const row of item.rows) places.set(row.key, n);
  });
  return places;
}

/** The keys of the unfolded matched rows around one of them. */
function runAround(shown: Shown[], index: number): string[] {
  const folds = (n: number) => {
    const item = shown[n];
    return item?.kind === "row" && isDecided(item.row) && !item.row.far && !item.row.changed;
  };
  let first = index;
  while (folds(first - 1)) first -= 1;
  let end = index;
  while (folds(end + 1)) end += 1;
  return shown.slice(first, end + 1).map((item) => item.key);
}

function bankHead(spine: Spine, locale: string): string {
  const first = spine.statements[0];
  const last = spine.statements.at(-1);
  const name = spine.account.bank || spine.account.name;
  if (!first || !last) return name;
  const lines = spine.strip.ticking ? "no lines: tick what is on the paper" : `${spine.strip.lines_total} lines`;
  return `${name} · statement ${longDay(first.start, locale)} – ${longDay(last.end, locale)}, ${lines}`;
}

/** Where a blocker is settled. */
function Cure({ kind, spine, onHead }: { kind: Spine["blockers"][number]["kind"]; spine: Spine; onHead: () => void }) {
  const look = "font-semibold text-wine";
  if (kind === "earlier open" && spine.before) {
    return (
      <Link className={look} to={spinePath(spine.company_id, spine.before.id)}>
        Go there
      </Link>
    );
  }
  if (kind === "books gap") {
    return (
      <Link className={look} to={accountPath(spine.company_id, spine.account.id, "trace")}>
        Opening trace
      </Link>
    );
  }
  if (kind === "no closing" || kind === "gap") {
    return (
      <Link className={look} to={accountPath(spine.company_id, spine.account.id, "statements")}>
        Get the statement
      </Link>
    );
  }
  return (
    <button type="button" className={look} onClick={onHead}>
      Correct the statement's head
    </button>
  );
}

function Nothing({ spine, filtered }: { spine: Spine; filtered: boolean }) {
  if (filtered) return <Empty title="Nothing here">No row fits this view and search. Press 1 for all rows.</Empty>;
  return (
    <Empty title="Nothing to reconcile yet">
      {spine.strip.ticking
        ? "The bank book has no open entries for this period."
        : "The statement and the books are empty here."}
    </Empty>
  );
}
