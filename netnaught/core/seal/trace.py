"""The opening trace: from the sealed closing to what the books count today, one step per finding."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from netnaught.core.seal.disturbances import Finding


@dataclass(frozen=True, slots=True)
class Period:
    """A sealed period with its findings, in the order in which one would look at them: the heaviest first."""

    reconciliation_id: int
    findings: tuple[Finding, ...]

    @property
    def shift(self) -> int:
        """What the period counts now − what was sealed: the sum of its findings."""
        return sum(finding.net for finding in self.findings)


@dataclass(frozen=True, slots=True)
class Staircase:
    """`sealed_closing` + the shift of every period = `counted_today`. Minor units."""

    sealed_closing: int
    periods: tuple[Period, ...]

    @property
    def gap(self) -> int:
        """The books gap: the sum of all steps."""
        return sum(period.shift for period in self.periods)

    @property
    def counted_today(self) -> int:
        """Where the stairs end."""
        return self.sealed_closing + self.gap

    @property
    def open(self) -> tuple[Finding, ...]:
        """The findings that nothing has mended."""
        return tuple(f for period in self.periods for f in period.findings if not f.mended)


def staircase(sealed_closing: int, order: Sequence[int], found: Mapping[int, Sequence[Finding]]) -> Staircase:
    """Put findings, given by reconciliation, into the order of their periods; periods without any are left out."""
    return Staircase(
        sealed_closing,
        tuple(
            Period(at, tuple(sorted(found[at], key=lambda f: (f.mended, -abs(f.net), f.item.id))))
            for at in order
            if found.get(at)
        ),
    )
