"""The best of several runs, and how it is printed beside its reference."""

from __future__ import annotations

import time
from collections.abc import Callable


def best(work: Callable[[], object], runs: int = 3) -> float:
    """The shortest of several runs, in seconds."""
    found = []
    for _ in range(runs):
        began = time.perf_counter()
        work()
        found.append(time.perf_counter() - began)
    return min(found)


def row(what: str, ours: float, reference: str, theirs: float, aim: str) -> str:
    """One line of the table."""
    return f"{what:<52} {ours:8.3f} s   {reference:<34} {theirs:8.3f} s   {ours / theirs:6.2f}x   aim {aim}"
