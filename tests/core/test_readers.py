"""Readers taught by example, composed passes, windows from lags: what they yield, and what they refuse."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from netnaught.core.ledger import BookEntry
from netnaught.core.matching import (
    Composed,
    Example,
    Lag,
    NoRule,
    NotComposed,
    OpenItems,
    Reader,
    SameReference,
    SameText,
    Side,
    Sign,
    Taught,
    TextOf,
    Window,
    check_days_from,
    learn,
    name_key,
    run_passes,
    suggest,
    window_from,
    yield_of,
)
from netnaught.core.statement import LineKind, StatementLine

FIRST = date(2026, 10, 1)


def marked(*pairs: tuple[str, str]) -> list[Example]:
    return [Example(text, text.index(mark), text.index(mark) + len(mark)) for text, mark in pairs]


def line(ident: str, amount: int, text: str = "", reference: str = "", day: int = 0) -> StatementLine:
    return StatementLine(ident, FIRST + timedelta(days=day), amount, reference, text, LineKind.OTHER)


def entry(ident: str, amount: int, reference: str = "", payee: str = "", day: int = 0) -> BookEntry:
    return BookEntry(ident, FIRST + timedelta(days=day), amount, reference, payee)


@pytest.mark.parametrize(
    ("examples", "sentence", "read"),
    [
        (
            [("CARD 55 CHK NO 000123 PAID", "123"), ("HARBOR CHK NO 004410", "4410")],
            "In the bank's text, the reference is the digits after “CHK NO”.",
            {"x chk no. 0099 y": "99", "CHK 77": None},
        ),
        (
            [("7700123401", "1234"), ("7700999901", "9999")],
            "In the bank's text, the reference is the 4 digits, without the first 4 characters and the last 2 "
            "characters of the number.",
            {"x 7700555501": "5555", "770055501": None},
        ),
        (
            [("PAYMENT INV-2026-0042 THX", "2026-0042"), ("PAYMENT INV-2026-0043", "2026-0043")],
            "In the bank's text, the reference is the digits with “-” between them after “PAYMENT INV-”.",
            {"Payment inv-2026-0100": "2026100"},
        ),
        (
            [("SLIP S0118X", "S0118X")],
            "In the bank's text, the reference is the letters and digits after “SLIP”.",
            {"ANY SLIP: a9": "A9"},
        ),
    ],
)
def test_a_rule_generalises_its_examples_and_says_so_in_one_sentence(
    examples: list[tuple[str, str]], sentence: str, read: dict[str, str | None]
) -> None:
    rule = learn(marked(*examples), Side.BANK, TextOf.TEXT)
    assert rule.sentence() == sentence
    assert {text: rule.read(text) for text in read} == read
    assert Reader.of_values(rule.values()) == rule


def test_examples_that_follow_no_one_rule_are_refused_with_the_reason() -> None:
    for examples, reason in (
        (marked(("AB12CD", "12"), ("A12CD", "12")), "different numbers of characters before"),
        (marked(("12AB", "12"), ("12A", "12")), "different numbers of characters after"),
        ([Example("A 12", 3, 9)], "outside the text"),
        ([Example("FEE", 0, 0)], "mark the reference, or say what kind"),
        ([], "at least one example"),
    ):
        with pytest.raises(NoRule, match=reason):
            learn(examples, Side.BANK, TextOf.TEXT)
    kinds = learn(
        [Example("POS BUY FERRY", 0, 0), Example("POS BUY DOCK", 0, 0)], Side.BANK, TextOf.TEXT, LineKind.CARD
    )
    assert (kinds.sentence(), kinds.read("a POS BUY b"), kinds.read("POSE BUYER")) == (
        "Where the bank's text says “pos buy”, the item is a card.",
        "",
        None,
    )


@given(
    st.from_regex(r"[A-Z]{2,8} [A-Z]{2,8}", fullmatch=True),
    st.lists(st.integers(1, 10**6), min_size=1, max_size=6, unique=True),
    st.integers(0, 4),
)
def test_a_learned_rule_reads_every_example_as_it_was_marked(words: str, numbers: list[int], pad: int) -> None:
    texts = [f"{words} {'9' * pad}{n} END" for n in numbers]
    examples = [
        Example(t, len(words) + 1 + pad, len(words) + 1 + pad + len(str(n)))
        for t, n in zip(texts, numbers, strict=True)
    ]
    rule = learn(examples, Side.BANK, TextOf.TEXT)
    assert [rule.read(text) for text in texts] == [str(n) for n in numbers]


def hidden(count: int = 8) -> tuple[list[StatementLine], list[BookEntry]]:
    """A bank that wraps the check number in its own: 7 + number + 55."""
    lines = [line(f"L{n}", -5000, f"PAPER ITEM 7{4100 + n}55 CLEARED", day=n) for n in range(count)]
    return lines, [entry(f"B{n}", -5000, str(4100 + n), day=n - 9) for n in range(count)]


def test_a_reading_that_makes_lines_agree_is_proposed_with_its_number_and_then_decides() -> None:
    lines, entries = hidden()
    shuffled = [entry(str(e.id), e.amount, e.reference, day=(n * 5) % 8 - 9) for n, e in enumerate(entries)]
    (found,) = suggest(lines, shuffled)
    assert (found.yields.reads, found.yields.gain) == (8, 8)
    assert found.reader.sentence() == (
        "In the bank's text, the reference is the digits after “PAPER ITEM”, "
        "without the first character and the last 2 characters of the number."
    )
    taught = Taught((found.reader,))
    outcome = run_passes(OpenItems(tuple(lines), tuple(shuffled), taught=taught))
    assert all(str(m.lines[0])[1:] == str(m.entries[0])[1:] for m in outcome.matches)
    assert len(outcome.matches) == 8
    # Proposed only where it makes many agree, and never again once it is known.
    assert suggest(*hidden(4)) == ()
    assert suggest(lines, shuffled, (found.reader,)) == ()
    assert yield_of(found.reader, lines[:3], shuffled).agree == 3


def test_a_name_learned_from_a_match_decides_the_next_time_and_says_so() -> None:
    lines = (line("L1", -700, "ACH QX HOLDINGS 11", day=20), line("L2", -700, "ACH SOMEONE", day=21))
    entries = (entry("B1", -700, payee="Skerry Fuel Dock", day=2), entry("B2", -700, payee="Other Party", day=1))
    assert not run_passes(OpenItems(lines, entries)).matches
    taught = Taught(names={name_key("ACH QX HOLDINGS 7"): "Skerry Fuel Dock"})
    (made,) = run_passes(OpenItems(lines, entries, taught=taught)).matches[:1]
    assert (made.lines, made.entries) == (("L1",), ("B1",))
    assert "this text has been Skerry Fuel Dock before" in made.why


def test_a_composed_pass_is_certain_or_silent() -> None:
    ending = Composed("Ends", SameReference.ENDING, window=Window(30, 5), sign=Sign.OUT)
    pair = OpenItems((line("L1", -500, reference="81234", day=9),), (entry("B1", -500, "771234"),))
    assert not run_passes(pair, (ending,)).matches  # neither ends in the other
    agreeing = OpenItems((line("L1", -500, reference="1234", day=9),), (entry("B1", -500, "771234"),))
    (made,) = run_passes(agreeing, (ending,)).matches
    assert made.why.startswith("“Ends”: amount and reference (one ends in the other) agree, for lines, money out")
    rival = OpenItems(agreeing.lines, (*agreeing.entries, entry("B2", -500, "991234", day=-300)))
    assert not run_passes(rival, (ending,)).matches  # a rival outside the window still makes it a question
    with pytest.raises(NotComposed, match="amount alone only proposes"):
        Composed("Nothing").check()
    words = Composed("Words", text=SameText.WORDS)
    both = OpenItems((line("L1", -500, "ISLAND FUEL DEPOT NORTH"),), (entry("B1", -500, payee="Island Fuel"),))
    assert run_passes(both, (words,)).matches
    assert not run_passes(OpenItems(both.lines, (entry("B1", -500, payee="Island Rope"),)), (words,)).matches


def test_windows_follow_the_lags_all_but_the_rarest_and_only_when_there_are_enough() -> None:
    usual = [Lag(n % 4, check=False) for n in range(200)] + [Lag(300, check=False)]
    assert window_from(usual) == Window(6, 3)
    assert window_from(usual[:19]) is None
    assert check_days_from([Lag(40, check=True)] * 30) == 55
    assert check_days_from([Lag(1, check=True)] * 30) == 30
    assert check_days_from(usual) is None


def test_a_rule_comes_back_from_a_text_that_only_begins_as_it_wants() -> None:
    rule = learn(marked(("CHK NO 12", "12"), ("CHK NO 345", "345")), Side.BANK, TextOf.TEXT)
    assert rule.read("CHK NO " + " ." * 20_000) is None
    assert rule.read("CHK NO " + " ." * 20_000 + " 77") == "77"
