"""A layout: which column is what, and how days and amounts are written."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, replace
from enum import StrEnum
from typing import Any

from netnaught.formats.reading import Unreadable
from netnaught.formats.tables.grid import ENCODINGS, Grid
from netnaught.formats.tables.values import ORDERS, read_day


class ColumnRole(StrEnum):
    """What a column holds."""

    DATE = "date"
    VALUE_DATE = "value date"
    AMOUNT = "amount"
    MONEY_IN = "in"
    MONEY_OUT = "out"
    MARKER = "marker"
    BALANCE = "balance"
    REFERENCE = "reference"
    TEXT = "text"
    ID = "id"
    CURRENCY = "currency"
    KIND = "kind"
    IGNORE = "ignore"


ROLES = tuple(ColumnRole)


@dataclass(frozen=True, slots=True)
class Layout:
    """How one bank's table is read.

    heading     the cells of the row above the lines, as written: by it the layout is known again
    roles       a role for each column
    date_order  ymd, dmy or mdy; decimal: point or comma
    out_words   what the marker column says for money out
    flip        True where the amount column counts money out as positive
    owed        True where the balance column counts what is owed, as cards do
    encoding    of delimited text; empty where it is found from the file
    """

    form: str
    heading: tuple[str, ...]
    roles: tuple[ColumnRole, ...]
    date_order: str
    decimal: str
    delimiter: str = ""
    out_words: tuple[str, ...] = ()
    flip: bool = False
    owed: bool = False
    encoding: str = ""

    def columns(self, role: ColumnRole) -> list[int]:
        """The columns of a role, from the left."""
        return [number for number, found in enumerate(self.roles) if found is role]

    def column(self, role: ColumnRole) -> int | None:
        """The first column of a role."""
        return next(iter(self.columns(role)), None)

    def with_role(self, column: int, role: ColumnRole) -> Layout:
        """The layout with another role for one column."""
        return replace(self, roles=tuple(role if n == column else found for n, found in enumerate(self.roles)))

    def values(self) -> dict[str, Any]:
        """As JSON or TOML values."""
        return {key: list(value) if isinstance(value, tuple) else value for key, value in asdict(self).items()}

    @classmethod
    def of_values(cls, given: Mapping[str, Any]) -> Layout:
        """The inverse of `values`; Unreadable names what is wrong."""
        unknown = set(given) - set(cls.__dataclass_fields__)
        if unknown:
            raise Unreadable("is no setting of a layout", column=sorted(unknown)[0])
        try:
            layout = cls(
                form=str(given.get("form", "delimited")),
                heading=tuple(str(cell) for cell in given.get("heading", ())),
                roles=tuple(ColumnRole(role) for role in given["roles"]),
                date_order=str(given["date_order"]),
                decimal=str(given["decimal"]),
                delimiter=str(given.get("delimiter", "")),
                out_words=tuple(str(word) for word in given.get("out_words", ())),
                flip=bool(given.get("flip", False)),
                owed=bool(given.get("owed", False)),
                encoding=str(given.get("encoding", "")),
            )
        except (KeyError, ValueError, TypeError) as error:
            raise Unreadable(f"the layout is not complete: {error}") from None
        layout.check()
        return layout

    def check(self) -> None:
        """Unreadable unless the layout can read lines: a date, and one way of telling amounts."""
        if self.date_order not in ORDERS:
            raise Unreadable("is none of ymd, dmy, mdy", column="date_order", value=self.date_order)
        if self.decimal not in (".", ","):
            raise Unreadable("is neither point nor comma", column="decimal", value=self.decimal)
        if self.encoding and self.encoding not in ENCODINGS:
            raise Unreadable(f"is none of {', '.join(ENCODINGS)}", column="encoding", value=self.encoding)
        if len(self.columns(ColumnRole.DATE)) != 1:
            raise Unreadable("the layout needs one date column")
        split = bool(self.columns(ColumnRole.MONEY_IN) or self.columns(ColumnRole.MONEY_OUT))
        if split == bool(self.columns(ColumnRole.AMOUNT)):
            raise Unreadable("the layout needs one amount column, or columns for money in and out")
        for role in (
            ColumnRole.AMOUNT,
            ColumnRole.MONEY_IN,
            ColumnRole.MONEY_OUT,
            ColumnRole.MARKER,
            ColumnRole.BALANCE,
            ColumnRole.ID,
        ):
            if len(self.columns(role)) > 1:
                raise Unreadable(f"the layout has two columns for {role.value}")

    def fits(self, heading: tuple[str, ...]) -> bool:
        """Whether a table with that heading is one of this layout."""
        return bool(self.heading) and _folded(heading) == _folded(self.heading)

    def knows(self, grid: Grid) -> bool:
        """Whether a grid is one of this layout: by its heading, without one by its width and what its columns hold."""
        if self.form != grid.form:
            return False
        if self.heading:
            return any(self.fits(row.cells) for row in grid.rows[:80])
        day = self.column(ColumnRole.DATE)
        first = grid.rows[0] if grid.rows else None
        return (
            first is not None
            and len(first.cells) == len(self.roles)
            and read_day(first.cell(-1 if day is None else day), self.date_order) is not None
        )


def _folded(heading: tuple[str, ...]) -> list[str]:
    return [" ".join(cell.lower().split()) for cell in heading]
