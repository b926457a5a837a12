"""How far the reading of a large file has come: told to whoever watches, and stopped when they ask.

Readers walk through `in_steps`; where nobody watches, that costs next to nothing.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from typing import TypeVar

Item = TypeVar("Item")
# Often enough for a bar that moves, seldom enough not to be felt.
EVERY = 256


class Stopped(Exception):
    """Whoever watched has asked to stop. Nothing is half-read."""


@dataclass(slots=True)
class Progress:
    """One reading. `phase`: what is being done, in words; `share`: how much of it, 0 to 1."""

    phase: str = "opening the file"
    share: float = 0.0
    stopped: bool = False


_watched: ContextVar[Progress | None] = ContextVar("watched", default=None)


@contextmanager
def watching(progress: Progress) -> Iterator[None]:
    """Everything read inside tells `progress` how far it has come."""
    token = _watched.set(progress)
    try:
        yield
    finally:
        _watched.reset(token)


def came_to(phase: str, done: int, of: int) -> None:
    """Tell how far a phase has come; Stopped when that was asked for."""
    progress = _watched.get()
    if progress is None:
        return
    if progress.stopped:
        raise Stopped
    progress.phase, progress.share = phase, done / of if of else 1.0


def in_steps(items: Sequence[Item], phase: str) -> Iterator[Item]:
    """The items one by one, telling every so often how far along they are."""
    for number, item in enumerate(items):
        if number % EVERY == 0:
            came_to(phase, number, len(items))
        yield item
