"""The reconciliation report: what was reconciled, how the figures come to zero, who and when.

Money in minor units. A report of a sealed reconciliation is produced once and kept.
"""

from __future__ import annotations

from dataclasses import asdict, dataclass, replace


@dataclass(frozen=True, slots=True)
class Figure:
    """One line of an equation: its words and its amount. `total`: it is what the ones above make."""

    label: str
    amount: int
    total: bool = False


@dataclass(frozen=True, slots=True)
class Item:
    """One cleared or outstanding item. `bank_date` is empty while it is not at the bank."""

    date: str
    bank_date: str
    reference: str
    text: str
    amount: int
    note: str = ""


@dataclass(frozen=True, slots=True)
class Report:
    """Everything on the paper."""

    company: str
    account: str
    bank: str
    number: str
    currency: str
    locale: str
    start: str
    end: str
    sealed: bool
    prepared_by: str
    prepared_at: str
    statement_equation: tuple[Figure, ...]
    bank_side: tuple[Figure, ...]
    book_side: tuple[Figure, ...]
    gl_balance: int | None
    gl_account: str
    cleared: tuple[Item, ...]
    outstanding: tuple[Item, ...]
    files: tuple[str, ...]
    fingerprint: str = ""
    seal_number: int = 0
    previous_fingerprint: str = ""

    def with_seal(self, number: int, fingerprint: str, previous: str) -> Report:
        """The report of the sealed reconciliation."""
        return replace(self, sealed=True, seal_number=number, fingerprint=fingerprint, previous_fingerprint=previous)

    def content(self) -> dict[str, object]:
        """As plain JSON values."""
        return asdict(self)
