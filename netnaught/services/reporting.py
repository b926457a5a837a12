"""Papers: the report of a reconciliation, as it stands or as it was sealed."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from netnaught.core.ledger import BankAccountKind
from netnaught.core.reconciliation import DecisionKind
from netnaught.core.wording import count
from netnaught.papers.pdf import render_pdf
from netnaught.papers.report import Figure, Item, Report
from netnaught.services.access import Context, reconciliation_for
from netnaught.services.errors import NotFound
from netnaught.services.workbench import Bench, chain_of, load_bench, period_start
from netnaught.store import seals
from netnaught.store.seals import Seal


def build_report(ctx: Context, bench: Bench, prepared_by: str, prepared_at: str) -> Report:
    """The report of a reconciliation as it stands now."""
    desk, now = bench.desk, bench.standing
    account, company = desk.account, desk.company
    start = period_start(account, chain_of(ctx.db, account), desk.reconciliation).end
    difference = now.difference or 0
    cleared_in, cleared_out = now.ticked_in, now.ticked_out
    bank_alone = now.counted - cleared_in.total - cleared_out.total
    equation = [
        Figure("Opening balance, as sealed" if start != account.starting_date else "Starting balance", now.opening),
        Figure(f"Cleared, money in ({count(cleared_in.lines, 'entry', 'entries')})", cleared_in.total),
        Figure(f"Cleared, money out ({count(cleared_out.lines, 'entry', 'entries')})", cleared_out.total),
    ]
    if bank_alone:
        equation.append(Figure("Bank errors and their corrections", bank_alone))
    equation += [
        Figure("Counted", now.counted_so_far, total=True),
        Figure(
            "Counted balance" if account.kind is BankAccountKind.CASH else "Statement closing balance", now.closing or 0
        ),
        Figure("Difference", difference, total=True),
    ]
    bank_side = [
        Figure("Statement closing balance", now.closing or 0),
        Figure(f"Deposits in transit ({now.outstanding_in.lines})", now.outstanding_in.total),
        Figure(f"Outstanding payments ({now.outstanding_out.lines})", now.outstanding_out.total),
    ]
    if now.late:
        bank_side.append(Figure("Late in the books", -now.late))
    if now.bank_errors:
        bank_side.append(Figure("Open bank errors", -now.bank_errors))
    bank_side.append(Figure("Adjusted bank balance", now.adjusted_balance or 0, total=True))
    books = bench.book_footing
    book_side = [
        Figure("Book balance at start", books.start),
        Figure(f"Entries, money in ({books.came_in.lines})", books.came_in.total),
        Figure(f"Entries, money out ({books.went_out.lines})", books.went_out.total),
        Figure("Book balance at end", books.end, total=True),
    ]
    return Report(
        company=company.name,
        account=account.name,
        bank=account.bank,
        number=account.number,
        currency=account.currency,
        locale=company.locale,
        start=start.isoformat(),
        end=desk.reconciliation.closing_date.isoformat(),
        sealed=False,
        prepared_by=prepared_by,
        prepared_at=prepared_at,
        statement_equation=tuple(equation),
        bank_side=tuple(bank_side),
        book_side=tuple(book_side),
        gl_balance=bench.gl_balance,
        gl_account=account.gl_number,
        cleared=_cleared(bench),
        outstanding=_outstanding(bench),
        files=tuple(f"{s.file_name} · SHA-256 {s.file_sha256}" for s in bench.statements if s.file_name),
    )


def _cleared(bench: Bench) -> tuple[Item, ...]:
    line_dates = {line.id: line.line.date.isoformat() for line in bench.lines}
    lines = {line.id: line.line for line in bench.lines}
    entries = {entry.id: entry for entry in bench.work.entries}
    items: list[Item] = []
    for stored in bench.decisions:
        decision = stored.decision
        bank_date = min((line_dates[int(item)] for item in decision.lines), default="")
        for item in decision.entries:
            entry = entries[item]
            text = entry.payee or entry.memo
            items.append(Item(entry.date.isoformat(), bank_date, entry.reference, text, entry.amount, stored.why))
        if decision.kind in (DecisionKind.BANK_ERROR, DecisionKind.BANK_CORRECTION):
            line = lines[int(decision.lines[0])]
            items.append(Item("", bank_date, line.reference, line.description, line.amount, decision.kind.value))
    return tuple(sorted(items, key=lambda i: (i.bank_date or i.date, i.date, i.reference, i.amount)))


def _outstanding(bench: Bench) -> tuple[Item, ...]:
    cleared = {item for d in bench.work.decisions for item in d.entries}
    return tuple(
        Item(e.date.isoformat(), "", e.reference, e.payee or e.memo, e.amount, f"{(bench.work.end - e.date).days} days")
        for e in bench.work.entries
        if e.id not in cleared and e.date <= bench.work.end
    )


def report_bytes(report: Report) -> bytes:
    """The report as JSON, as kept with its seal."""
    return json.dumps(report.content(), ensure_ascii=False, sort_keys=True).encode()


def _sealed_paper(ctx: Context, company_id: int, seal: Seal, kind: str) -> bytes:
    return next(paper.content for paper in seals.papers(ctx.db, company_id, seal.id) if paper.kind == kind)


def report(ctx: Context, company_id: int, reconciliation_id: int) -> Mapping[str, Any]:
    """The report on screen: as sealed, or as it stands now."""
    desk = reconciliation_for(ctx, company_id, reconciliation_id)
    seal = seals.seal_of(ctx.db, company_id, reconciliation_id) if desk.reconciliation.sealed else None
    if seal:
        stored: dict[str, Any] = json.loads(_sealed_paper(ctx, company_id, seal, "report.json"))
        return stored
    now = build_report(ctx, load_bench(ctx, desk), ctx.user.name, ctx.stamp)
    current: dict[str, Any] = json.loads(report_bytes(now))
    return current


def report_pdf(ctx: Context, company_id: int, reconciliation_id: int) -> bytes:
    """The report as PDF: the very bytes that were sealed, or as it stands now."""
    desk = reconciliation_for(ctx, company_id, reconciliation_id)
    seal = seals.seal_of(ctx.db, company_id, reconciliation_id) if desk.reconciliation.sealed else None
    if seal:
        return _sealed_paper(ctx, company_id, seal, "report.pdf")
    return render_pdf(build_report(ctx, load_bench(ctx, desk), ctx.user.name, ctx.stamp))


def sealed_pdf(ctx: Context, company_id: int, reconciliation_id: int, number: int) -> bytes:
    """The report of one seal of a reconciliation, replaced or not: its very bytes."""
    reconciliation_for(ctx, company_id, reconciliation_id)
    for seal in seals.seals_of(ctx.db, company_id, reconciliation_id):
        if seal.number == number:
            return _sealed_paper(ctx, company_id, seal, "report.pdf")
    raise NotFound("This reconciliation has no such seal.")
