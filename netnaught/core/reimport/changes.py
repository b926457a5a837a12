"""What a row of a fresh export is to what is known, what it touches, and when a file is in doubt."""

from __future__ import annotations

from enum import StrEnum

# So many known rows with turned signs, and so large a part of them, are a changed convention.
TURNED_AT_LEAST = 3
TURNED_SHARE = (4, 5)


class RowChange(StrEnum):
    """What a row, or a known entry, is."""

    NEW = "new"
    SAME = "same"
    CHANGED = "changed"
    GONE = "gone"
    OUTSIDE = "outside"
    RETURNED = "returned"
    BACK = "back"
    HELD = "held"


class Touches(StrEnum):
    """What a difference touches, heaviest first."""

    SEALED = "sealed"
    CLEARED = "cleared"
    OPEN = "open"


class Doubt(StrEnum):
    """Why a file is not taken as it is."""

    TURNED_SIGNS = "turned signs"
    OTHER_ACCOUNT = "other account"


APPLIED = (RowChange.NEW, RowChange.CHANGED, RowChange.GONE, RowChange.BACK)
_ALTERING = (RowChange.CHANGED, RowChange.GONE, RowChange.OUTSIDE, RowChange.BACK)
_ORDER = [
    RowChange.CHANGED,
    RowChange.GONE,
    RowChange.BACK,
    RowChange.HELD,
    RowChange.RETURNED,
    RowChange.NEW,
    RowChange.OUTSIDE,
    RowChange.SAME,
]


def alters(change: RowChange, touches: Touches) -> bool:
    """Whether taking a difference over changes what stands in something sealed. What is new alters nothing."""
    return touches is Touches.SEALED and change in _ALTERING


def weight(change: RowChange, touches: Touches) -> tuple[int, int]:
    """Where a difference stands in the list: by what applying it touches, then by what it is."""
    touched = list(Touches).index(touches) if change in APPLIED else len(Touches)
    return touched, _ORDER.index(change)


def signs_turned(known: int, turned: int) -> bool:
    """Whether so many of the rows known by their ids have the opposite sign that the convention must have changed."""
    return turned >= TURNED_AT_LEAST and turned * TURNED_SHARE[1] >= known * TURNED_SHARE[0]
