"""Splits, tax and coding rules: exact to the cent, refused with the reason, never running away."""

from __future__ import annotations

from datetime import date
from decimal import ROUND_HALF_UP, Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from netnaught.core.coding import (
    Coding,
    Part,
    Rule,
    RuleRefused,
    SplitRefused,
    TaxCode,
    TextMatch,
    WayOfMoney,
    code,
    post,
    tax_in,
    tax_on,
)
from netnaught.core.coding.rules import Share
from netnaught.core.statement import LineKind, StatementLine

VAT = TaxCode(7, "VAT", 190_000, 99)


def amounts(total: int, *parts: Part) -> list[tuple[int, int]]:
    return [(p.gl_account_id, p.amount) for p in post(total, parts)]


@given(st.integers(-(10**9), 10**9), st.sampled_from([0, 50_000, 70_000, 88_750, 190_000, 250_000]))
def test_tax_is_what_decimal_arithmetic_rounds_half_up(amount: int, rate: int) -> None:
    """Checked by hand with Python's decimal module: tax in gross = gross · r / (1 + r), on net = net · r."""
    r = Decimal(rate) / Decimal(1_000_000)
    assert tax_on(amount, rate) == int((Decimal(amount) * r).quantize(Decimal(1), ROUND_HALF_UP))
    exact = Decimal(amount * rate) / Decimal(1_000_000 + rate)
    assert abs(tax_in(amount, rate) - exact) <= Decimal("0.5")
    assert tax_in(-amount, rate) == -tax_in(amount, rate)


@given(
    st.integers(1, 10**7).map(lambda n: -n),
    st.lists(st.integers(1, 3000), min_size=1, max_size=3),
    st.booleans(),
)
def test_a_split_keeps_the_total_whatever_the_shares_and_taxes(total: int, shares: list[int], taxed: bool) -> None:
    parts = [Part(n, share=share, tax=VAT if taxed else None) for n, share in enumerate(shares)]
    parts.append(Part(50, share=10_000 - sum(shares)))
    assert sum(amount for _, amount in amounts(total, *parts)) == total


def test_what_rounding_leaves_goes_to_the_largest_part_the_first_of_equals() -> None:
    thirds = [Part(1, share=3333), Part(2, share=3333), Part(3, share=3334)]
    assert amounts(-100, *thirds) == [(1, -34), (2, -33), (3, -33)]
    assert amounts(-101, Part(1, share=5000), Part(2, share=5000)) == [(1, -50), (2, -51)]
    assert amounts(1001, Part(1, share=2500), Part(2, share=2500), Part(3, share=5000)) == [
        (1, 250),
        (2, 250),
        (3, 501),
    ]


def test_fixed_amounts_what_is_left_and_tax_in_or_on_top() -> None:
    assert amounts(-1000, Part(1, amount=-400), Part(2)) == [(1, -400), (2, -600)]
    assert amounts(-1190, Part(1, tax=VAT)) == [(1, -1000), (99, -190)]
    assert amounts(-1190, Part(1, amount=-1000, tax=VAT, on_top=True)) == [(1, -1000), (99, -190)]
    assert amounts(-1500, Part(1, amount=-1000, tax=VAT, on_top=True), Part(2)) == [(1, -1000), (99, -190), (2, -310)]


@pytest.mark.parametrize(
    ("parts", "reason"),
    [
        ((), "needs an account"),
        ((Part(1, amount=-400),), "do not make the amount"),
        ((Part(1, share=4000), Part(2, share=5000)), "make 90 %, not 100 %"),
        ((Part(1, share=9000), Part(2, share=5000)), "make 140 %, not 100 %"),
        ((Part(1), Part(2)), "only one part"),
        ((Part(1, amount=-1000), Part(2)), "nothing is left"),
        ((Part(1, amount=-1200), Part(2)), "nothing is left"),
        ((Part(1, amount=-1, share=1),), "not both"),
    ],
)
def test_parts_that_do_not_make_the_amount_are_refused_with_what_is_missing(
    parts: tuple[Part, ...], reason: str
) -> None:
    with pytest.raises(SplitRefused, match=reason):
        post(-1000, parts)


def line(text: str, amount: int = -4500, kind: LineKind = LineKind.CARD) -> StatementLine:
    return StatementLine("L", date(2026, 10, 5), amount, "", text, kind)


def rule(number: int, text: str, account: int = 1, how: TextMatch = TextMatch.CONTAINS, **more: object) -> Rule:
    return Rule(number, f"rule {number}", text, how, Coding((Share(account),)), **more)  # type: ignore[arg-type]


def test_the_first_rule_that_applies_codes_and_one_that_says_otherwise_is_a_conflict() -> None:
    rules = [rule(1, "FUEL", 5), rule(2, "fuel dock", 5), rule(3, "dock", 6), rule(4, "rope", 7)]
    found = code(line("GANNET FUEL DOCK"), 1, rules)
    assert found
    assert (found.rule.id, [r.id for r in found.others]) == (1, [3])
    assert code(line("HARBOR DUES"), 1, rules) is None


def test_a_rule_looks_at_text_sign_amount_kind_and_account() -> None:
    words = rule(1, "dock fuel", how=TextMatch.WORDS)
    assert words.applies(line("GANNET FUEL DOCK"), 1)
    assert not words.applies(line("GANNET FUELDOCK"), 1)
    pattern = rule(2, r"^POS \d{4} gannet", how=TextMatch.PATTERN)
    assert pattern.applies(line("POS 1234 GANNET"), 1)
    narrow = rule(3, "fuel", way=WayOfMoney.OUT, low=4000, high=5000, kind=LineKind.CARD, bank_account_id=2)
    assert narrow.applies(line("FUEL"), 2)
    for other, account in (
        (line("FUEL", 4500), 2),
        (line("FUEL", -3999), 2),
        (line("FUEL", -5001), 2),
        (line("FUEL", kind=LineKind.FEE), 2),
        (line("FUEL"), 1),
    ):
        assert not narrow.applies(other, account)


@pytest.mark.parametrize(
    ("bad", "reason"),
    [
        (rule(1, " "), "would take every line"),
        (rule(1, "(", how=TextMatch.PATTERN), "the pattern cannot be used: missing"),
        (rule(1, r"(a)\1", how=TextMatch.PATTERN), "invalid escape"),
        (rule(1, "x", low=5, high=4), "lowest amount is above"),
        (
            Rule(1, "r", "x", TextMatch.CONTAINS, Coding((Share(1, 4000), Share(2, 5000)))),
            "percentages of a rule make 100",
        ),
        (Rule(1, "", "x", TextMatch.CONTAINS, Coding((Share(1),))), "has a name"),
    ],
)
def test_a_rule_that_cannot_be_used_is_refused_with_the_reason(bad: Rule, reason: str) -> None:
    with pytest.raises(RuleRefused, match=reason):
        bad.check()


def test_no_pattern_runs_away() -> None:
    """Nested repetition, over which a backtracking engine would not come back."""
    hard = rule(1, "(x+x+)+y", how=TextMatch.PATTERN)
    assert not hard.applies(line("x" * 5_000), 1)
