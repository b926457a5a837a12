"""Precision, recall and decisions per 100 lines on months with known truth."""

from __future__ import annotations

from collections.abc import Iterator

from netnaught.core.matching import run_passes
from tests.truth import STYLES, score, write_month

SEEDS = range(20)


def run() -> Iterator[str]:
    """Twenty months in each style."""
    for style in STYLES:
        months = [write_month(style, seed) for seed in SEEDS]
        outcomes = [run_passes(month.items) for month in months]
        found = [score(month, outcome) for month, outcome in zip(months, outcomes, strict=True)]
        decided, right = sum(s.decided for s in found), sum(s.right for s in found)
        decidable, made = sum(s.decidable for s in found), sum(s.found for s in found)
        lines = sum(len(month.lines) for month in months)
        person = sum(len(o.questions) + len(o.left.lines) for o in outcomes)
        yield (
            f"truth, {style.name:<14} right {right / decided:8.4%}  found {made / decidable:8.4%}  "
            f"decisions of a person per 100 lines {100 * person / lines:5.2f}"
        )
