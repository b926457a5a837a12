"""What a seal holds, in one canonical form (RFC 8785, by library `rfc8785`).

RFC 8785 numbers are IEEE doubles, so amounts are written as strings of minor units:
no integer is ever rounded on its way into a seal.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import orjson
import rfc8785

Json = dict[str, "Json"] | list["Json"] | str | int | bool | None

FORM = "net-naught-seal-1"


@dataclass(frozen=True, slots=True)
class SealedLine:
    """A statement line as sealed. Dates ISO 8601; amounts minor units."""

    id: int
    date: str
    amount: int
    reference: str
    description: str
    bank_id: str | None

    def content(self) -> Json:
        """Its canonical members."""
        return {
            "id": self.id,
            "date": self.date,
            "amount": str(self.amount),
            "reference": self.reference,
            "description": self.description,
            "bank_id": self.bank_id,
        }


@dataclass(frozen=True, slots=True)
class SealedEntry:
    """A book entry as sealed, cleared or outstanding."""

    id: int
    date: str
    amount: int
    reference: str
    payee: str
    memo: str

    def content(self) -> Json:
        """Its canonical members."""
        return {
            "id": self.id,
            "date": self.date,
            "amount": str(self.amount),
            "reference": self.reference,
            "payee": self.payee,
            "memo": self.memo,
        }


@dataclass(frozen=True, slots=True)
class SealContent:
    """Everything a seal covers. Money in minor units; `figures` and `statements` are plain JSON."""

    company: str
    account: str
    currency: str
    start: str
    end: str
    sealed_by: str
    sealed_at: str
    opening: int
    closing: int
    figures: dict[str, int]
    statements: tuple[Json, ...]
    decisions: tuple[Json, ...]
    lines: tuple[SealedLine, ...]
    cleared: tuple[SealedEntry, ...]
    outstanding: tuple[SealedEntry, ...]
    prepared_by: str = ""
    replaces: str = ""

    def content(self) -> Json:
        """The snapshot as JSON values, ready to be made canonical."""
        return {
            "form": FORM,
            "company": self.company,
            "account": self.account,
            "currency": self.currency,
            "start": self.start,
            "end": self.end,
            "sealed_by": self.sealed_by,
            "sealed_at": self.sealed_at,
            **({"prepared_by": self.prepared_by} if self.prepared_by else {}),
            **({"replaces": self.replaces} if self.replaces else {}),
            "opening": str(self.opening),
            "closing": str(self.closing),
            "figures": {name: str(amount) for name, amount in self.figures.items()},
            "statements": list(self.statements),
            "decisions": list(self.decisions),
            "lines": [line.content() for line in self.lines],
            "cleared": [entry.content() for entry in self.cleared],
            "outstanding": [entry.content() for entry in self.outstanding],
        }


def canonical(value: Json) -> bytes:
    """The RFC 8785 form of a JSON value, UTF-8."""
    return rfc8785.dumps(value)


@lru_cache(maxsize=1)
def read_content(content: bytes) -> dict[str, Any]:
    """The values of a seal, for reading what it says; amounts are strings of minor units still.

    The last one read is kept: several checks ask for the same in turn, and none changes it.
    """
    found: dict[str, Any] = orjson.loads(content)
    return found


def sealed_entry(values: dict[str, Any]) -> SealedEntry:
    """The inverse of `SealedEntry.content`."""
    return SealedEntry(
        values["id"], values["date"], int(values["amount"]), values["reference"], values["payee"], values["memo"]
    )


def sealed_line(values: dict[str, Any]) -> SealedLine:
    """The inverse of `SealedLine.content`."""
    return SealedLine(
        values["id"],
        values["date"],
        int(values["amount"]),
        values["reference"],
        values["description"],
        values["bank_id"],
    )
