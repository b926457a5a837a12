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
    ACCEPTED = "accepted"
    IN_REVIEW = "in review"
    OPENED_AGAIN = "opened again"


@dataclass(frozen=True, slots=True)
class Ring:
    """A ring: its form, and the arc drawn (`done` of `of`)."""

    state: RingState
    done: int = 0
    of: int = 1


def ring_of(now: Standing, stage: str = "in work") -> Ring:
    """The ring of a reconciliation that is not sealed. It closes only when all is resolved and the difference zero.

    `stage`: in review and opened again have forms of their own, with the same arc.
    """
    done, of = now.share
    if now.complete:
        done, of = 1, 1
    elif done >= of:
        done, of = 19, 20
    if stage != "in work":
        return Ring(RingState(stage), done, of)
    return Ring(RingState.AT_NAUGHT if now.complete else RingState.IN_WORK, done, of)


def sealed_ring(disturbed: bool, accepted: bool = False) -> Ring:
    """The ring of a sealed reconciliation: cracked while something is disturbed, its own form where all is accepted."""
    state = RingState.DISTURBED if disturbed else RingState.ACCEPTED if accepted else RingState.SEALED
    return Ring(state, 1, 1)
