"""Months with known truth, in several styles: what is decided is right, what can be decided is decided."""

from __future__ import annotations

from itertools import combinations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from ortools.sat.python import cp_model

from netnaught.core.ledger import BookEntry
from netnaught.core.matching import Cause, OpenItems, ProposalKind, run_passes
from netnaught.core.matching.groups import subsets
from netnaught.core.matching.traits import of_entry
from tests.strategies import START
from tests.truth import STYLES, Score, Style, score, write_month

SEEDS = range(6)


def scores(style: Style) -> list[Score]:
    return [score(month, run_passes(month.items)) for month in (write_month(style, seed) for seed in SEEDS)]


@pytest.mark.parametrize("style", STYLES, ids=lambda style: style.name)
def test_at_least_999_of_1000_decisions_are_right_and_95_of_100_are_made(style: Style) -> None:
    found = scores(style)
    decided, right = sum(s.decided for s in found), sum(s.right for s in found)
    decidable, made = sum(s.decidable for s in found), sum(s.found for s in found)
    assert right >= 0.999 * decided, [s.wrong for s in found]
    assert made >= 0.95 * decidable, [s.missed for s in found]


@pytest.mark.parametrize("style", STYLES, ids=lambda style: style.name)
def test_the_rest_is_offered_as_a_proposal_or_a_question(style: Style) -> None:
    month = write_month(style, 3)
    found = run_passes(month.items)
    asked = {item for q in found.questions for item in (*q.lines, *q.entries)}
    assert {item for item in month.apart if item.startswith("L")} <= asked
    causes = {p.cause for p in found.proposals}
    assert {Cause.DIGITS_SWAPPED, Cause.SLIDE} <= causes
    assert ProposalKind.DOUBLED in {p.kind for p in found.proposals}


def solutions(amounts: list[int], total: int) -> int:
    """How many subsets of two or more make a total: OR-tools CP-SAT, all solutions enumerated."""
    model = cp_model.CpModel()
    chosen = [model.new_bool_var(str(n)) for n in range(len(amounts))]
    model.add(sum(a * c for a, c in zip(amounts, chosen, strict=True)) == total)
    model.add(sum(chosen) >= 2)

    class Count(cp_model.CpSolverSolutionCallback):
        found = 0

        def on_solution_callback(self) -> None:
            self.found += 1

    solver, counted = cp_model.CpSolver(), Count()
    solver.parameters.enumerate_all_solutions = True
    solver.parameters.num_workers = 1
    solver.solve(model, counted)
    return counted.found


@given(st.lists(st.sampled_from([-100, 100, 200, 300, 450, 700]), min_size=2, max_size=6), st.integers(1, 12))
def test_a_sum_that_can_be_made_in_more_than_one_way_is_seen(amounts: list[int], hundreds: int) -> None:
    """Against OR-tools CP-SAT, which enumerates every solution."""
    items = [of_entry(BookEntry(n, START, amount)) for n, amount in enumerate(amounts)]
    ours = subsets(items, hundreds * 100)
    assert min(len(ours), 2) == min(solutions(amounts, hundreds * 100), 2)


def test_brute_force_agrees_up_to_twelve_items() -> None:
    amounts = [3, 5, 7, 11, 13, 17, 19, 23, 29, 31, 37, 41]
    items = [of_entry(BookEntry(n, START, amount)) for n, amount in enumerate(amounts)]
    for total in range(8, 80, 7):
        every = sum(sum(c) == total for size in range(2, 6) for c in combinations(amounts, size))
        assert min(len(subsets(items, total)), 2) == min(every, 2)


def test_a_number_near_another_is_not_that_number() -> None:
    """`CHECK 1001` and `CHECK 1010` score 90 of 100 by token similarity: references are never compared that way."""
    items = OpenItems((), (BookEntry("B", START, -100, "1010"),))
    assert not run_passes(OpenItems(write_month(STYLES[0], 1).items.lines[:1], items.entries)).matches
