"""Fetching from the stand-in bank over HTTP, also when it misbehaves."""

from __future__ import annotations

import json
import socket
import threading
import time
import urllib.request
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from typing import Any

import pytest
import uvicorn

from netnaught.core.statement import LineKind, StatementLine
from netnaught.services import bank_service, evidence
from netnaught.services.access import Role
from netnaught.services.errors import BadInput, BankUnavailable, Forbidden, NotFound
from netnaught.standins.bank import BankBooks, create_bank
from tests.world import World


def line(ident: str, day: str, amount: int, reference: str = "") -> StatementLine:
    kind = LineKind.CHECK if reference else LineKind.DEPOSIT
    return StatementLine(ident, date.fromisoformat(day), amount, reference, "CHECK" if reference else "DEPOSIT", kind)


BOOKS = BankBooks(
    id="main",
    number="70044410",
    bank="Lantern Mutual",
    bank_id="091000019",
    currency="USD",
    opening=100_000,
    opened=date(2026, 10, 1),
    complete_until=date(2026, 11, 30),
    lines=[
        line("A", "2026-10-06", -500, "0017"),
        line("B", "2026-10-20", 900),
        line("C", "2026-11-03", -700),
        line("D", "2026-12-02", 300),
    ],
    checks={"17": {"payee": "Marram Stationery", "memo": "Paper"}},
)


@dataclass(frozen=True, slots=True)
class Bank:
    """A served stand-in bank."""

    address: str

    def behave(self, **manners: Any) -> None:
        body = json.dumps(manners).encode()
        request = urllib.request.Request(f"{self.address}/behaviour", body, {"Content-Type": "application/json"})
        urllib.request.urlopen(request).close()


@pytest.fixture(scope="module")
def served() -> Iterator[Bank]:
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    server = uvicorn.Server(uvicorn.Config(create_bank([BOOKS]), host="127.0.0.1", port=port, log_level="error"))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.02)
    yield Bank(f"http://127.0.0.1:{port}")
    server.should_exit = True
    thread.join()


@pytest.fixture
def bank(served: Bank, world: World, monkeypatch: pytest.MonkeyPatch) -> Bank:
    monkeypatch.setattr(bank_service, "PAUSE", 0.01)
    served.behave()
    bank_service.connect(world.ctx, world.company.id, world.account.id, served.address, "main")
    return served


def fetch(world: World) -> bank_service.Fetched:
    return bank_service.fetch(world.ctx, world.company.id, world.account.id)


def lines(world: World) -> list[str]:
    return [row[0] for row in world.db.execute("SELECT bank_id FROM statement_line ORDER BY date")]


def test_each_open_period_gets_its_own_statement_and_the_running_one_its_new_lines(world: World, bank: Bank) -> None:
    found = fetch(world)
    assert found.sentences == (
        "October 2026: its statement is stored.",
        "November 2026: its statement is stored.",
        "1 new line of the running month.",
        "1 check image kept.",
    )
    assert lines(world) == ["A", "B", "C", "D"]
    rows = world.db.execute("SELECT closing_date FROM reconciliation ORDER BY closing_date").fetchall()
    assert [row[0] for row in rows] == ["2026-10-31", "2026-11-30", "2026-12-02"]
    assert found.reconciliation_id
    assert world.view(found.reconciliation_id).bench.standing.closing == 100_400
    (running,) = world.db.execute("SELECT id FROM reconciliation WHERE closing_date = '2026-12-02'").fetchone()
    assert world.view(running).bench.standing.difference is None
    assert fetch(world).sentences == ("Nothing new: everything the bank has is here.",)


def test_a_check_image_stays_with_its_line(world: World, bank: Bank) -> None:
    fetch(world)
    (line_id,) = [row[0] for row in world.db.execute("SELECT id FROM statement_line WHERE bank_id = 'A'")]
    (kept,) = evidence.list_evidence(world.ctx, world.company.id, "line", line_id)
    assert (kept.name, kept.media_type) == ("check-17.png", "image/png")
    _, content = evidence.open_evidence(world.ctx, world.company.id, kept.id)
    assert content.startswith(b"\x89PNG")


def test_a_bank_that_fails_is_tried_again_and_named_when_it_goes_on(world: World, bank: Bank) -> None:
    bank.behave(fail=2)
    assert fetch(world).stored == 3
    bank.behave(fail=99)
    with pytest.raises(BankUnavailable, match="tried 3 times: it answered 503, The bank's service is closed"):
        fetch(world)
    bank.behave()
    assert lines(world) == ["A", "B", "C", "D"]


def test_a_bank_that_is_too_slow_is_named(world: World, bank: Bank, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(bank_service, "PATIENCE", 0.2)
    bank.behave(slow_seconds=0.5)
    with pytest.raises(BankUnavailable, match="cannot be reached"):
        fetch(world)
    assert lines(world) == []


def test_repeated_lines_are_named_and_left_out_days_do_not_slip_by(world: World, bank: Bank) -> None:
    bank.behave(repeat=True)
    found = fetch(world)
    assert found.needs_person
    assert "the id stands on line" in found.sentences[0]
    bank.behave(leave_out=["2026-10-20"])
    (told,) = fetch(world).sentences
    assert "a bank gap of 9.00" in told
    assert lines(world) == []


def test_a_statement_that_comes_after_its_lines_closes_the_period(world: World, bank: Bank) -> None:
    BOOKS.complete_until, before = date(2026, 9, 30), BOOKS.complete_until
    try:
        assert fetch(world).sentences[0] == "4 new lines of the running month."
    finally:
        BOOKS.complete_until = before
    fetch(world)
    assert lines(world) == ["A", "B", "C", "D"]


def test_only_those_who_manage_the_setup_connect_and_only_to_an_account_that_is_there(world: World, bank: Bank) -> None:
    tam = world.as_user("tam", Role.PREPARER)
    with pytest.raises(Forbidden):
        bank_service.connect(tam, world.company.id, world.account.id, bank.address, "main")
    with pytest.raises(NotFound, match="no such account"):
        bank_service.connect(world.ctx, world.company.id, world.account.id, bank.address, "other")
    with pytest.raises(BadInput, match="begins with http"):
        bank_service.connect(world.ctx, world.company.id, world.account.id, "file:///etc/passwd", "main")
