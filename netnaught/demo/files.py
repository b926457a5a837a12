"""Statement files as the demo's invented banks hand them out, each bank in its one format."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from datetime import date
from itertools import groupby

from netnaught.core.money import Currency, plain
from netnaught.core.statement import LineKind, StatementLine
from netnaught.formats import ReadStatement

_CREDITS = {LineKind.DEPOSIT: "165", LineKind.TRANSFER: "195", LineKind.INTEREST: "354"}
_DEBITS = {LineKind.CHECK: "475", LineKind.TRANSFER: "495", LineKind.FEE: "698"}


def _type_of(line: StatementLine) -> str:
    return _CREDITS.get(line.kind, "399") if line.amount > 0 else _DEBITS.get(line.kind, "699")


def bai2_file(statement: ReadStatement, *, receiver: str) -> bytes:
    """A file of Bank of the Sound: a group for each day that has lines, balances and totals checked."""
    rows = [f"01,BOFSOUND,{receiver},{statement.head.end:%y%m%d},0600,1,,,2/"]
    groups: list[list[str]] = []
    balance = statement.head.opening or 0
    lines = [read.line for read in statement.lines]
    control = 0
    for day, today in groupby(lines, key=lambda x: x.date):
        group, total, balance = _bai2_day(statement, day, list(today), balance, receiver)
        groups.append(group)
        control += total
    rows += [row for group in groups for row in group]
    rows.append(f"99,{control},{len(groups)},{len(rows) + 1}/")
    return ("\n".join(rows) + "\n").encode()


def _bai2_day(
    statement: ReadStatement, day: date, lines: list[StatementLine], opening: int, receiver: str
) -> tuple[list[str], int, int]:
    came = [x.amount for x in lines if x.amount > 0]
    went = [-x.amount for x in lines if x.amount < 0]
    closing = opening + sum(came) - sum(went)
    summary = f"010,{opening},,,015,{closing},,,100,{sum(came)},{len(came)},,400,{sum(went)},{len(went)},"
    account = [f"03,{statement.account},{statement.currency},{summary}/"]
    account += [f"16,{_type_of(x)},{abs(x.amount)},Z,,{x.reference},{x.description}/" for x in lines]
    total = opening + closing + sum(came) + sum(went) + sum(abs(x.amount) for x in lines)
    account.append(f"49,{total},{len(account) + 1}/")
    head = f"02,{receiver},BOFSOUND,1,{day:%y%m%d},,{statement.currency},2/"
    return [head, *account, f"98,{total},1,{len(account) + 2}/"], total, closing


def mt940_file(statement: ReadStatement, of: Currency) -> bytes:
    """A statement as SWIFT's MT940."""
    head = statement.head

    def balance(amount: int, day: date) -> str:
        return f"{'D' if amount < 0 else 'C'}{day:%y%m%d}{of.code}{_comma(abs(amount), of)}"

    rows = [":20:NN-SAMPLE", f":25:{statement.account}", ":28C:10/1", f":60F:{balance(head.opening or 0, head.start)}"]
    for read in statement.lines:
        line = read.line
        kind = {LineKind.CHECK: "NCHK", LineKind.FEE: "NCHG", LineKind.INTEREST: "NINT"}.get(line.kind, "NTRF")
        mark, reference = "D" if line.amount < 0 else "C", line.reference or "NONREF"
        rows.append(f":61:{line.date:%y%m%d%m%d}{mark}{_comma(abs(line.amount), of)}{kind}{reference[:16]}")
        rows.append(f":86:{line.description[:65]}")
    rows += [f":62F:{balance(head.closing or 0, head.end)}", "-"]
    return ("\r\n".join(rows) + "\r\n").encode()


def _comma(amount: int, of: Currency) -> str:
    return plain(amount, of).replace(".", ",")


def card_csv(lines: Iterable[StatementLine], owed: int, account: str, period: tuple[date, date], of: Currency) -> bytes:
    """A file of Tern Card Services: newest first, charges positive, what is owed behind each line."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\n")
    out.write(f"Card number: {account}\nBilling period: {period[0]:%m/%d/%Y} to {period[1]:%m/%d/%Y}\n\n")
    writer.writerow(("Transaction Date", "Posting Date", "Merchant", "Reference", "Amount", "Balance owed"))
    rows = []
    for line in lines:
        owed -= line.amount
        day = f"{line.date:%m/%d/%Y}"
        rows.append((day, day, line.description, line.reference, plain(-line.amount, of), plain(owed, of)))
    writer.writerows(reversed(rows))
    return out.getvalue().encode()
