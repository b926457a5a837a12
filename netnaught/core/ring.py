"""The ring: the one mark that tells how far a reconciliation is."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from netnaught.core.reconciliation import Standing


class RingState(StrEnum):
    """The forms of the ring, the same wherever it appears."""

    NO_STATEMENT = "no statement"
    IN_WORK = "in work"
    AT_NAUGHT = "at naught"
    SEALED = "sealed"
    DISTURBED = "disturbed"


@dataclass(frozen=True, slots=True)
class Ring:
    """A ring: its form, and the arc drawn (`done` of `of`)."""

    state: RingState
    done: int = 0
    of: int = 1


def ring_of(now: Standing) -> Ring:
    """The ring of a reconciliation in work. It closes only when everything is resolved and the difference zero."""
    done, of = now.share
    if now.complete:
        return Ring(RingState.AT_NAUGHT, 1, 1)
    if done >= of:
        done, of = 19, 20
    return Ring(RingState.IN_WORK, done, of)


def sealed_ring(shift: int) -> Ring:
    """The ring of a sealed reconciliation; `shift`: counted now − counted in the seal."""
    return Ring(RingState.DISTURBED if shift else RingState.SEALED, 1, 1)
