"""The bank's service: connecting an account to it, fetching statements, new lines and check images.

Spoken to over HTTP. A failure says what happened and is tried again; what was stored before
it stays, and fetching again goes on from there.
"""

from __future__ import annotations

import json
import time
import urllib.error
import urllib.parse
import urllib.request
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from netnaught.core.money import MoneyError, currency, parse_plain
from netnaught.core.statement import LineKind, StatementLine
from netnaught.core.wording import count
from netnaught.services import evidence, reading
from netnaught.services.access import Context, Right, account_for, record_event
from netnaught.services.errors import BadInput, BankUnavailable, ConfirmationNeeded, NotFound, Refused
from netnaught.store import connections, statements
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.connections import BankConnection
from netnaught.store.database import atomic

TRIES = 3
PATIENCE = 8.0
PAUSE = 0.4
LARGEST_ANSWER = 64 * 1024 * 1024


@dataclass(frozen=True, slots=True)
class RemoteAccount:
    """An account as the bank's service knows it. `complete_until`: its statements are there up to then."""

    id: str
    number: str
    bank: str
    currency: str
    complete_until: date


@dataclass(frozen=True, slots=True)
class Fetched:
    """What a fetch brought: a sentence for each period, and whether anything still needs a person."""

    sentences: tuple[str, ...]
    stored: int
    images: int
    needs_person: bool
    reconciliation_id: int | None


def _get(address: str, path: str) -> bytes:
    """An answer's bytes; BankUnavailable after several tries."""
    if not address.startswith(("http://", "https://")):
        raise BadInput(
            "The address of a bank's service begins with http:// or https://.", field="address", value=address
        )
    problem = ""
    for attempt in range(TRIES):
        if attempt:
            time.sleep(PAUSE * attempt)
        try:
            with urllib.request.urlopen(address.rstrip("/") + path, timeout=PATIENCE) as answer:  # noqa: S310  checked above
                data: bytes = answer.read(LARGEST_ANSWER + 1)
        except urllib.error.HTTPError as error:
            if error.code == 404:
                raise NotFound(f"The bank has none: {_detail(error.read())}") from None
            problem = f"it answered {error.code}, {_detail(error.read())}"
            continue
        except (urllib.error.URLError, OSError, ValueError) as error:
            reason = getattr(error, "reason", error)
            problem = f"it cannot be reached ({reason})"
            continue
        if len(data) > LARGEST_ANSWER:
            raise BankUnavailable("The bank's answer is too large and was not read.")
        return data
    raise BankUnavailable(
        f"The bank's service was tried {TRIES} times: {problem}. Nothing was changed; try again later."
    )


def _detail(body: bytes) -> str:
    try:
        return str(json.loads(body).get("detail", ""))[:200]
    except (ValueError, AttributeError):
        return "without a reason"


def _json(address: str, path: str) -> Any:  # noqa: ANN401  checked by those who ask
    data = _get(address, path)
    try:
        return json.loads(data)
    except ValueError:
        raise BankUnavailable("The bank's answer is no JSON; nothing was changed.") from None


def remote_accounts(ctx: Context, company_id: int, account_id: int, address: str) -> list[RemoteAccount]:
    """The accounts that a bank's service offers."""
    account_for(ctx, company_id, account_id, Right.MANAGE)
    return _remote_accounts(address)


def _remote_accounts(address: str) -> list[RemoteAccount]:
    try:
        return [
            RemoteAccount(
                str(row["id"]),
                str(row["number"]),
                str(row["bank"]),
                str(row["currency"]),
                date.fromisoformat(row["complete_until"]),
            )
            for row in _json(address, "/accounts")
        ]
    except (KeyError, TypeError, ValueError):
        raise BankUnavailable("The bank's list of accounts cannot be read; nothing was changed.") from None


def connect(ctx: Context, company_id: int, account_id: int, address: str, remote_id: str) -> None:
    """Connect a bank account to an account of the bank's service."""
    _, account = account_for(ctx, company_id, account_id, Right.MANAGE)
    remote = next((found for found in _remote_accounts(address) if found.id == remote_id), None)
    if remote is None:
        raise NotFound("The bank has no such account.")
    if remote.currency != account.currency:
        raise Refused(f"That account is kept in {remote.currency}, {account.name} in {account.currency}.")
    with atomic(ctx.db):
        connections.connect_account(ctx.db, company_id, account_id, address, remote_id, ctx.user.id, ctx.stamp)
        record_event(
            ctx, company_id, "bank connected", "bank_account", account_id, after={"address": address, "id": remote_id}
        )


def disconnect(ctx: Context, company_id: int, account_id: int) -> None:
    """Forget the connection; what was fetched stays."""
    account_for(ctx, company_id, account_id, Right.MANAGE)
    with atomic(ctx.db):
        connections.disconnect(ctx.db, company_id, account_id)
        record_event(ctx, company_id, "bank disconnected", "bank_account", account_id)


def connection_of(ctx: Context, company_id: int, account_id: int) -> BankConnection | None:
    """The account's connection, if it has one."""
    account_for(ctx, company_id, account_id)
    return connections.connection_of(ctx.db, company_id, account_id)


def _month_end(day: date) -> date:
    return (day.replace(day=28) + timedelta(days=4)).replace(day=1) - timedelta(days=1)


def periods_due(last: date, complete_until: date) -> list[tuple[date, date]]:
    """The months after `last` whose statements are complete: each period gets its own."""
    found: list[tuple[date, date]] = []
    start = last + timedelta(days=1)
    while (end := _month_end(start)) <= complete_until:
        found.append((start, end))
        start = end + timedelta(days=1)
    return found


def fetch(ctx: Context, company_id: int, account_id: int) -> Fetched:
    """Fetch what the bank has: the statement of each complete month, then new lines of the running one."""
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    link = connections.connection_of(ctx.db, company_id, account_id)
    if link is None:
        raise NotFound(f"{account.name} is not connected to a bank's service.")
    remote = next((found for found in _remote_accounts(link.address) if found.id == link.remote_id), None)
    if remote is None:
        raise NotFound("The bank has no such account any more.")
    covered = [s.head.end for s in statements.statements(ctx.db, company.id, account.id) if s.format != "feed"]
    said: list[str] = []
    stored, images, at, needs = 0, 0, None, False
    for start, end in periods_due(max(covered, default=account.starting_date), remote.complete_until):
        query = urllib.parse.urlencode({"start": start, "end": end, "format": "ofx"})
        data = _get(link.address, f"/accounts/{urllib.parse.quote(link.remote_id)}/statements?{query}")
        name = f"{account.bank.lower().replace(' ', '-') or 'bank'}-{end:%Y-%m}.ofx"
        try:
            stored_in = reading.store_file(ctx, company_id, account_id, name, data)
        except ConfirmationNeeded as asked:
            said += [f"{end:%B %Y} was not stored: {sentence}" for _, sentence in asked.notices]
            needs = True
            break
        except (BadInput, Refused) as error:
            said.append(f"{end:%B %Y} was not stored: {error.message}")
            needs = True
            break
        stored += 1
        at = at or stored_in
        images += _keep_images(ctx, account, link, stored_in)
        said.append(f"{end:%B %Y}: its statement is stored.")
    if not needs:
        new, sentence, running = _running(ctx, account, link, remote.complete_until)
        said += [sentence] if sentence else []
        at, stored = at or running, stored + new
        images += _keep_images(ctx, account, link, running) if running else 0
    if not said:
        said.append("Nothing new: everything the bank has is here.")
    if images:
        said.append(f"{count(images, 'check image')} kept.")
    return Fetched(tuple(said), stored, images, needs, at)


def _running(
    ctx: Context, account: BankAccount, link: BankConnection, complete_until: date
) -> tuple[int, str, int | None]:
    """New lines of the month that has no statement yet; repeated ones are named and not stored twice."""
    query = urllib.parse.urlencode({"since": link.mark})
    answer = _json(link.address, f"/accounts/{urllib.parse.quote(link.remote_id)}/lines?{query}")
    try:
        lines = [_line(row, account) for row in answer["lines"]]
        mark = str(answer["mark"])
    except (KeyError, TypeError, ValueError, MoneyError) as error:
        raise BankUnavailable(f"A line of the bank cannot be read ({error}); nothing of it was stored.") from None
    running = [line for line in lines if line.date > complete_until]
    unique = list({line.id: line for line in running}.values())
    repeated = len(running) - len(unique)
    with atomic(ctx.db):
        at, new = reading.store_feed(ctx, account, unique) if unique else (None, 0)
        connections.set_mark(ctx.db, account.company_id, account.id, mark, ctx.stamp)
    said = f"{count(new, 'new line')} of the running month." if new else ""
    if repeated:
        said = (
            f"{said} {count(repeated, 'line')} came twice and {'was' if repeated == 1 else 'were'} stored once.".strip()
        )
    return new, said, at


def _line(row: dict[str, Any], account: BankAccount) -> StatementLine:
    return StatementLine(
        str(row["id"]),
        date.fromisoformat(str(row["date"])),
        parse_plain(str(row["amount"]), currency(account.currency)),
        str(row["reference"]),
        str(row["description"]),
        LineKind(row["kind"]),
    )


def _keep_images(ctx: Context, account: BankAccount, link: BankConnection, reconciliation_id: int) -> int:
    """Check images of a reconciliation's lines, each kept once; a check without one is nothing wrong."""
    lines = statements.lines_of(ctx.db, account.company_id, reconciliation_id)
    checks = [x for x in lines if x.line.kind is LineKind.CHECK and x.line.reference]
    have = evidence.lines_with_evidence(ctx, account)
    kept = 0
    for stored in checks:
        if stored.id in have:
            continue
        number = urllib.parse.quote(stored.line.reference)
        try:
            image = _get(link.address, f"/accounts/{urllib.parse.quote(link.remote_id)}/checks/{number}")
        except NotFound:
            continue
        except BankUnavailable:
            break
        name = f"check-{stored.line.reference.lstrip('0')}.png"
        evidence.attach(ctx, account.company_id, "line", stored.id, name, image, "from the bank")
        kept += 1
    return kept
