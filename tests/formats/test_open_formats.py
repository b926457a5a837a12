"""camt.053, MT940 and BAI2: read right, or refused with the place; what we write is read back."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from netnaught.core.money import Currency, currency
from netnaught.core.statement import ControlTotals, LineKind, StatementHead, StatementLine, delivered, footing
from netnaught.demo.files import bai2_file, mt940_file
from netnaught.formats import (
    ReadLine,
    ReadStatement,
    Unreadable,
    read_statements,
    write_camt053,
    write_ofx2,
    write_plain_statement,
    write_xlsx,
)
from netnaught.standins.paper import statement_pdf
from tests.strategies import amounts, days

USD, EUR = currency("USD"), currency("EUR")
CAMT = """<?xml version="1.0"?><Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.{version}">
<BkToCstmrStmt><GrpHdr><MsgId>1</MsgId></GrpHdr><Stmt><Id>1</Id><Acct><Id><IBAN>GB82WEST12345698765432</IBAN></Id>
<Ccy>EUR</Ccy></Acct>
<Bal><Tp><CdOrPrtry><Cd>OPBD</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">100.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-10-01</Dt></Dt></Bal>
<Bal><Tp><CdOrPrtry><Cd>CLBD</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">{closing}</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-10-31</Dt></Dt></Bal>
<Ntry><Amt Ccy="{code}">{amount}</Amt><CdtDbtInd>DBIT</CdtDbtInd><RvslInd>true</RvslInd><Sts>{status}</Sts>
<BookgDt><Dt>{day}</Dt></BookgDt><AcctSvcrRef>R1</AcctSvcrRef><BkTxCd><Prtry><Cd>X</Cd></Prtry></BkTxCd>
<NtryDtls><TxDtls><Refs><EndToEndId>E2E-7</EndToEndId></Refs><RltdPties><Dbtr><Nm>Us</Nm></Dbtr><Cdtr><Nm>Teal</Nm></Cdtr></RltdPties>
<RmtInf><Ustrd>Invoice 7</Ustrd></RmtInf></TxDtls></NtryDtls></Ntry></Stmt></BkToCstmrStmt></Document>"""


def camt(**changes: str) -> bytes:
    values = {
        "version": "02",
        "closing": "70.00",
        "code": "EUR",
        "amount": "30.00",
        "status": "BOOK",
        "day": "2026-10-05",
    }
    return CAMT.format(**(values | changes)).encode()


@pytest.mark.parametrize("version", ["02", "04", "08", "13"])
def test_camt_is_read_whatever_its_version(version: str) -> None:
    status = "BOOK" if version < "08" else "<Cd>BOOK</Cd>"
    (found,) = read_statements(camt(version=version, status=status), EUR)
    (read,) = found.lines
    assert (found.account, found.currency, found.head.opening, found.head.closing) == (
        "GB82WEST12345698765432", "EUR", 10000, 7000)  # fmt: skip
    assert (read.line.amount, read.line.reference, read.bank_id) == (-3000, "E2E-7", "R1")
    assert read.line.description == "Us · Invoice 7"
    assert footing(found.head, delivered(found.amounts)).foots is True


def test_camt_sign_is_the_indicator_s_alone_and_pending_entries_are_left_out_and_named() -> None:
    (found,) = read_statements(camt(status="PDNG"), EUR)
    assert found.lines == ()
    assert found.problems[0].what == "an entry is not booked (PDNG) and was left out"


@pytest.mark.parametrize(
    ("changes", "column", "value"),
    [
        ({"code": "USD"}, "Amt", "USD"),
        ({"amount": "30.005"}, "Amt", "30.005"),
        ({"amount": "NaN"}, "Amt", "NaN"),
        ({"amount": "-30.00"}, "Amt", "-30.00"),
        ({"day": "2026-02-30"}, "BookgDt", "2026-02-30"),
        ({"code": "EUX"}, "Amt", "EUX"),
        ({"closing": "7e1"}, "Amt", "7e1"),
    ],
)
def test_camt_faults_name_the_element_and_its_line(changes: dict[str, str], column: str, value: str) -> None:
    with pytest.raises(Unreadable) as refused:
        read_statements(camt(**changes), EUR)
    assert (refused.value.column, refused.value.value) == (column, value)
    assert refused.value.line


BOMB = b"""<?xml version="1.0"?><!DOCTYPE d [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;">]>
<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.02">&b;</Document>"""


@pytest.mark.parametrize("data", [BOMB, camt()[:-40], b"<?xml version='1.0'?><a/>", b"<Document/>"])
def test_hostile_and_foreign_xml_is_refused(data: bytes) -> None:
    with pytest.raises(Unreadable):
        read_statements(data, EUR)


MT940 = """:20:A
:25:BANK/123456
:28C:1/1
:60F:C260930EUR100,00
:61:2610051005D30,00NCHK2201//B1
:86:Check paid
 to Marram
:61:2612310101RC10,00NMSCNONREF
:86:020?00TRANSFER?20From Teal?32TEAL FREIGHT
:62F:C261231EUR60,00
-
"""


def test_mt940_is_read_and_a_reversed_credit_goes_out() -> None:
    (found,) = read_statements(MT940.encode(), EUR)
    assert (found.bank, found.account, found.head.opening, found.head.closing) == ("BANK", "123456", 10000, 6000)
    assert [(r.line.amount, r.line.reference, r.line.description) for r in found.lines] == [
        (-3000, "2201", "Check paid to Marram"),
        (-1000, "", "TRANSFER · TEAL FREIGHT · From Teal"),
    ]
    assert [r.line.date for r in found.lines] == [date(2026, 10, 5), date(2027, 1, 1)]
    assert footing(found.head, delivered(found.amounts)).foots is True


@pytest.mark.parametrize(
    ("old", "new", "line"),
    [
        ("261005", "260230", 5),
        ("D30,00", "DNaN", 5),
        ("D30,00", "D30,005", 5),
        ("C260930EUR", "C260930", 4),
        ("C261231EUR60,00", "C261231USD60,00", 10),
        (":25:BANK/123456", ":25:", 1),
        (":62F:C261231EUR60,00\n-\n", "", 9),
        (":20:A\n", "", 1),
        (":60F:C260930EUR100,00", ":60F:C260930EUX100,00", 4),
        ("C260930EUR", "C260930JPY", 10),
    ],
)
def test_mt940_faults_name_their_line(old: str, new: str, line: int) -> None:
    with pytest.raises(Unreadable) as refused:
        read_statements(MT940.replace(old, new, 1).encode(), EUR)
    assert refused.value.line == line


def bai2() -> str:
    head = StatementHead(date(2026, 10, 1), date(2026, 10, 2), 100_000, 112_500)
    rows = ((10_000, LineKind.DEPOSIT, 1), (5_000, LineKind.DEPOSIT, 2), (-2_500, LineKind.FEE, 2))
    reads = tuple(
        ReadLine(StatementLine(f"x{n}", date(2026, 10, day), amount, f"R{n}", "TEXT, WITH COMMA", kind), None)
        for n, (amount, kind, day) in enumerate(rows)
    )
    return bai2_file(ReadStatement("", "", "0917", "USD", head, reads), receiver="US").decode()


def test_bai2_days_of_one_account_are_one_statement() -> None:
    (found,) = read_statements(bai2().encode(), USD)
    assert (found.head.opening, found.head.closing) == (100_000, 112_500)
    assert found.head.totals == ControlTotals(15_000, -2_500, 2, 1)
    assert [(r.line.amount, r.line.reference, r.line.description) for r in found.lines] == [
        (10_000, "R0", "TEXT, WITH COMMA"),
        (5_000, "R1", "TEXT, WITH COMMA"),
        (-2_500, "R2", "TEXT, WITH COMMA"),
    ]
    assert found.problems == ()


def test_bai2_control_totals_that_do_not_agree_are_named_and_a_type_of_its_own_is_read_by_its_range() -> None:
    (spoiled,) = read_statements(bai2().replace("16,165,5000", "16,165,5001").encode(), USD)
    assert "control total" in spoiled.problems[0].what
    (own,) = read_statements(bai2().replace("16,698,", "16,593,").encode(), USD)
    assert own.lines[2].line.amount == -2_500


@pytest.mark.parametrize(
    ("old", "new", "line"),
    [("16,165,10000", "16,165,1e4", 4), ("16,165,10000", "16,999,10000", 4), ("49,", "47,", 5), ("99,", "98,", 13)],
)
def test_bai2_faults_name_their_line(old: str, new: str, line: int) -> None:
    with pytest.raises(Unreadable) as refused:
        read_statements(bai2().replace(old, new, 1).encode(), USD)
    assert refused.value.line == line


TEXT = st.text(st.characters(exclude_categories=["C", "Z"], exclude_characters="·="), max_size=30)
# As every reader gives it: a run of spaces is one.
SAFE = st.from_regex(r"[A-Z][A-Za-z ]{0,20}[a-z]", fullmatch=True).map(lambda text: " ".join(text.split()))
Write = Callable[[ReadStatement, Currency], bytes]


@st.composite
def statements(draw: st.DrawFn, text: st.SearchStrategy[str] = SAFE) -> ReadStatement:
    rows = draw(st.lists(st.tuples(days, amounts, text, st.sampled_from(list(LineKind))), min_size=1, max_size=6))
    lines = [
        ReadLine(StatementLine(f"ID{n}", day, amount, f"{100 + n}", text, kind), f"ID{n}")
        for n, (day, amount, text, kind) in enumerate(sorted(rows, key=lambda row: row[0]))
    ]
    opening = draw(amounts)
    head = StatementHead(date(2026, 9, 1), date(2026, 10, 31), opening, opening + sum(x.line.amount for x in lines))
    return ReadStatement("", "Bank", "DE001234", "USD", head, tuple(lines))


@pytest.mark.parametrize(
    ("write", "keeps"),
    [
        (write_camt053, "opening closing kind id account"),
        (write_ofx2, "closing kind id account"),
        (write_plain_statement, "id"),
        (write_xlsx, "opening closing kind id account"),
    ],
)
@given(statement=statements())
def test_what_is_written_is_read_back_identical(write: Write, keeps: str, statement: ReadStatement) -> None:
    (found,) = read_statements(write(statement, USD), USD)
    for mine, theirs in zip(statement.lines, found.lines, strict=True):
        a, b = mine.line, theirs.line
        assert (a.date, a.amount, a.reference, a.description) == (b.date, b.amount, b.reference, b.description)
        assert "kind" not in keeps or a.kind is b.kind
        assert mine.bank_id == theirs.bank_id
    for name in ("opening", "closing"):
        assert name not in keeps or getattr(found.head, name) == getattr(statement.head, name)
    assert "account" not in keeps or found.account == statement.account


@given(statement=statements())
def test_mt940_and_bai2_of_the_demo_s_banks_are_read_back(statement: ReadStatement) -> None:
    (swift,) = read_statements(mt940_file(statement, USD), USD)
    assert swift.amounts == statement.amounts
    assert (swift.head.opening, swift.head.closing) == (statement.head.opening, statement.head.closing)
    (cash,) = read_statements(bai2_file(statement, receiver="US"), USD)
    assert cash.amounts == statement.amounts
    assert cash.problems == ()


def one_line() -> ReadStatement:
    head = StatementHead(date(2026, 10, 1), date(2026, 10, 31), 0, 500)
    return ReadStatement("", "Bank", "1", "USD", head, (ReadLine(StatementLine("A", date(2026, 10, 2), 500), "A"),))


WHOLE = {
    "camt": camt(),
    "mt940": MT940.encode(),
    "bai2": bai2().encode(),
    "xlsx": write_xlsx(one_line(), USD),
    "pdf": statement_pdf(one_line(), USD),
}


@given(st.binary(max_size=60), st.sampled_from(sorted(WHOLE)), st.floats(0, 1), st.integers(0, 40))
def test_any_bytes_in_any_place_are_read_or_refused(noise: bytes, form: str, share: float, cut: int) -> None:
    whole = WHOLE[form]
    place = int(share * len(whole))
    try:
        read_statements(whole[:place] + noise + whole[place + cut :], EUR)
    except Unreadable as refused:
        assert "\n" not in refused.sentence("file")


PAGE = (
    ":20:{n}\n:25:BANK/123456\n:28C:1/{n}\n:60{a}:C260930EUR{opening}\n:61:2610051005D{amount}NMSC{n}\n:86:Page {n}\n"
    ":62{b}:C261031EUR{closing}\n-\n"
)


def pages(second_opening: str = "70,00") -> str:
    first = PAGE.format(n=1, a="F", b="M", opening="100,00", amount="30,00", closing="70,00")
    return first + PAGE.format(n=2, a="M", b="F", opening=second_opening, amount="20,00", closing="50,00")


def test_pages_of_one_mt940_statement_are_one_and_must_join_on() -> None:
    (found,) = read_statements(pages().encode(), EUR)
    assert (found.head.opening, found.head.closing, found.amounts) == (10_000, 5_000, [-3_000, -2_000])
    assert footing(found.head, delivered(found.amounts)).foots is True
    with pytest.raises(Unreadable, match="a page does not continue from the one before"):
        read_statements(pages("71,00").encode(), EUR)


@given(
    statements(), st.sampled_from([write_camt053, mt940_file, write_plain_statement]), st.floats(0, 0.999), st.data()
)
def test_one_digit_read_wrong_never_leaves_other_amounts_that_foot(
    statement: ReadStatement, write: Write, share: float, data: st.DataObject
) -> None:
    """A flipped digit is refused, or shown as not footing; else it was no digit of an amount."""
    whole = write(statement, USD)
    places = [n for n, byte in enumerate(whole) if chr(byte).isdigit()]
    place = places[int(share * len(places))]
    other = data.draw(st.sampled_from([d for d in b"0123456789" if d != whole[place]]))
    try:
        read = read_statements(whole[:place] + bytes([other]) + whole[place + 1 :], USD)
    except Unreadable:
        return
    (found,) = read
    judged = footing(found.head, delivered(found.amounts))
    if judged.foots:
        assert found.amounts == statement.amounts
        assert (found.head.opening, found.head.closing) == (statement.head.opening, statement.head.closing)
