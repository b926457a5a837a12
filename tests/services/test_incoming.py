"""Files on their way in: several statements in one, answers that a table still needs, a reading that is stopped."""

from __future__ import annotations

import json
from datetime import date

import pytest

from netnaught.core.ledger import AccountKind, BankAccountKind
from netnaught.formats import Progress, Stopped, read_statements, watching
from netnaught.services import reading, setup
from netnaught.services.errors import BadInput, Conflict
from netnaught.services.incoming import How
from netnaught.services.watching import progress_of, stop, watched
from tests.world import USD, World


def two_months_of_two_accounts(world: World) -> bytes:
    """One file: October and November of account 4410, October of 9920."""
    files = [
        world.ofx(world.line(-500)),
        world.ofx(world.line(-700, "2026-11-06"), opening=99_500, first="2026-11-01"),
        world.ofx(world.line(-900)).replace(b">4410<", b">9920<"),
    ]
    texts = [data.decode() for data in files]
    begin, end = "<BANKMSGSRSV1>", "</BANKMSGSRSV1>"
    parts = [text[text.index(begin) : text.index(end) + len(end)] for text in texts]
    return texts[0].replace(parts[0], "".join(parts)).encode()


def second_account(world: World, number: str) -> int:
    setup.add_gl_account(world.ctx, world.company.id, "1020", "Savings", AccountKind.ASSET)
    gl = {a.number: a.id for a in setup.chart_of_accounts(world.ctx, world.company.id)}
    return setup.open_bank_account(
        world.ctx,
        world.company.id,
        gl_account_id=gl["1020"],
        name="Savings",
        bank="Bank",
        number=number,
        kind=BankAccountKind.BANK,
        code="USD",
        starting_date=date(2026, 9, 30),
        starting_balance=100_000,
    ).id


def test_each_statement_of_a_file_goes_to_its_account_the_earliest_first(world: World) -> None:
    data = two_months_of_two_accounts(world)
    other = second_account(world, "9920")
    mine, company = world.account.id, world.company.id
    found = reading.read_file(world.ctx, company, mine, "all.ofx", data)
    assert [(x.place, x.number, x.bank_account_id) for x in found.in_file] == [
        (1, "4410", mine),
        (2, "4410", mine),
        (3, "9920", other),
    ]
    assert (found.place, found.reading.head.end) == (1, date(2026, 10, 31))
    for place, account in ((1, mine), (2, mine), (3, other)):
        reading.store_file(world.ctx, company, account, "all.ofx", data, how=How(place=place))
    ends = [s.head.end for s in reading.list_statements(world.ctx, company, mine)]
    assert ends == [date(2026, 10, 31), date(2026, 11, 30)]
    with pytest.raises(BadInput, match="is the statement of account 9920, which is another of this company's"):
        reading.store_file(world.ctx, company, mine, "all.ofx", data, how=How(place=3))


def test_a_statement_of_a_number_nobody_knows_is_given_an_account_and_remembered(world: World) -> None:
    data = two_months_of_two_accounts(world)
    other = second_account(world, "55")
    found = reading.read_file(world.ctx, world.company.id, other, "all.ofx", data, how=How(place=3))
    (notice,) = found.reading.notices
    assert notice.kind == "other account"
    reading.store_file(
        world.ctx, world.company.id, other, "all.ofx", data, None, frozenset([notice.kind]), How(place=3)
    )
    again = reading.read_file(world.ctx, world.company.id, world.account.id, "all.ofx", data)
    assert again.in_file[2].bank_account_id == other


def test_a_table_is_stored_only_when_every_open_question_was_answered(world: World) -> None:
    table = b"Date,Description,Amount\n10/03/2026,a,5.00\n10/04/2026,b,6.00\n"
    args = (world.ctx, world.company.id, world.account.id, "bank.csv", table)
    asked = reading.read_file(*args).table
    assert asked
    layout = json.dumps(asked.layout.values() | {"date_order": "mdy"})
    half = frozenset({"date_order"})
    with pytest.raises(BadInput, match="Is this money in or money out"):
        reading.store_file(*args, how=How(layout, half))
    reading.store_file(*args, how=How(layout, half | {"flip"}))
    pointed = reading.table_in(*args[:3], "bank.csv", table, delimiter="", encoding="", heading=1)
    assert pointed.draft
    assert pointed.draft.heading == ("Date", "Description", "Amount")
    with pytest.raises(BadInput, match="no row begins at line 9"):
        reading.table_in(*args[:3], "bank.csv", table, delimiter="", encoding="", heading=9)
    with pytest.raises(BadInput, match="holds no table"):
        reading.table_in(*args[:3], "x.ofx", world.ofx(), delimiter="", encoding="", heading=None)


def test_a_reading_tells_how_far_it_is_and_stops_when_asked(world: World) -> None:
    data = world.ofx(*[world.line(-100 - n) for n in range(600)])
    seen: list[tuple[str, float]] = []

    class Watcher(Progress):
        """Notes every step; stops in the middle of the lines."""

        def __setattr__(self, name: str, value: object) -> None:
            super().__setattr__(name, value)
            if name == "share":
                seen.append((self.phase, float(self.share)))
                if self.phase == "reading its lines" and self.share > 0.4:
                    super().__setattr__("stopped", True)

    with pytest.raises(Stopped), watching(Watcher()):
        read_statements(data, USD)
    shares = [share for phase, share in seen if phase == "reading its lines"]
    assert shares == [0.0, 256 / 600]
    with pytest.raises(Conflict, match=r"cancelled\. Nothing was stored"), watched(world.ctx, "mine"):
        assert progress_of(world.ctx, world.company.id, "mine")
        stop(world.ctx, world.company.id, "mine")
        reading.store_file(world.ctx, world.company.id, world.account.id, "s.ofx", data)
    assert progress_of(world.ctx, world.company.id, "mine") is None
    assert reading.list_statements(world.ctx, world.company.id, world.account.id) == []
