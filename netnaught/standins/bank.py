"""The stand-in bank: a service of its own, spoken to over HTTP, that can be told to misbehave.

It reads what it serves from a file (bank.json): accounts with their lines, in minor units.
"""

from __future__ import annotations

import json
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date
from pathlib import Path
from typing import Annotated, Any, Literal

from fastapi import FastAPI, HTTPException, Query, Response
from pydantic import BaseModel, Field

from netnaught.core.money import currency, plain
from netnaught.core.statement import LineKind, StatementHead, StatementLine
from netnaught.formats import ReadLine, ReadStatement, write_camt053, write_ofx
from netnaught.standins.paper import check_image, statement_pdf

MEDIA = {"ofx": "application/x-ofx", "camt053": "application/xml", "pdf": "application/pdf"}


class Behaviour(BaseModel):
    """How the bank is to misbehave. `fail`: so many requests answer 503. `leave_out`: days it forgets."""

    slow_seconds: float = Field(default=0, ge=0, le=30)
    fail: int = Field(default=0, ge=0)
    repeat: bool = False
    leave_out: list[date] = []


@dataclass(slots=True)
class BankBooks:
    """What the bank knows of one account; `checks`: payee and memo by check number."""

    id: str
    number: str
    bank: str
    bank_id: str
    currency: str
    opening: int
    opened: date
    complete_until: date
    lines: list[StatementLine]
    checks: dict[str, dict[str, str]]

    @classmethod
    def of_values(cls, values: dict[str, Any]) -> BankBooks:
        """From the file."""
        lines = [
            StatementLine(
                row["id"],
                date.fromisoformat(row["date"]),
                row["amount"],
                row["reference"],
                row["description"],
                LineKind(row["kind"]),
            )
            for row in values["lines"]
        ]
        days: dict[str, Any] = {key: date.fromisoformat(values[key]) for key in ("opened", "complete_until")}
        rest = {key: values[key] for key in ("id", "number", "bank", "bank_id", "currency", "opening", "checks")}
        return cls(**rest, **days, lines=lines)

    def values(self) -> dict[str, Any]:
        """The inverse of `of_values`."""
        rows = [
            {
                "id": str(x.id),
                "date": x.date.isoformat(),
                "amount": x.amount,
                "reference": x.reference,
                "description": x.description,
                "kind": x.kind.value,
            }
            for x in self.lines
        ]
        days = {"opened": self.opened.isoformat(), "complete_until": self.complete_until.isoformat()}
        names = ("id", "number", "bank", "bank_id", "currency", "opening", "checks")
        return {**{name: getattr(self, name) for name in names}, **days, "lines": rows}

    def statement(self, start: date, end: date, manners: Behaviour) -> ReadStatement:
        """The statement of some days, as the bank's manners have it."""
        opening = self.opening + sum(x.amount for x in self.lines if x.date < start)
        inside = [x for x in self.lines if start <= x.date <= end]
        closing = opening + sum(x.amount for x in inside)
        kept = [x for x in inside if x.date not in manners.leave_out]
        if manners.repeat and kept:
            kept.append(kept[-1])
        head = StatementHead(start, end, opening, closing)
        reads = tuple(ReadLine(x, str(x.id)) for x in kept)
        return ReadStatement("", self.bank, self.number, self.currency, head, reads)


@dataclass(slots=True)
class _Service:
    """The accounts served and the manners of the moment."""

    accounts: dict[str, BankBooks]
    manners: Behaviour = field(default_factory=Behaviour)

    def account(self, account_id: str) -> BankBooks:
        """One account, after the bank has been as slow or as broken as it was told to be."""
        if self.manners.slow_seconds:
            time.sleep(self.manners.slow_seconds)
        if self.manners.fail > 0:
            self.manners.fail -= 1
            raise HTTPException(503, "The bank's service is closed for maintenance")
        if account_id not in self.accounts:
            raise HTTPException(404, "There is no such account at this bank")
        return self.accounts[account_id]


def load_books(file: Path) -> list[BankBooks]:
    """The accounts in a bank.json."""
    return [BankBooks.of_values(values) for values in json.loads(file.read_text())["accounts"]]


def save_books(file: Path, books: list[BankBooks]) -> None:
    """Write a bank.json."""
    file.write_text(json.dumps({"accounts": [found.values() for found in books]}, indent=1) + "\n")


def create_bank(books: list[BankBooks]) -> FastAPI:
    """The service over some accounts."""
    app = FastAPI(title="Stand-in bank", docs_url=None, redoc_url=None)
    service = _Service({found.id: found for found in books})
    app.state.service = service

    @app.get("/accounts")
    def accounts() -> list[dict[str, str]]:
        """Every account with its name for it, and up to when its statements are complete."""
        return [
            {
                "id": found.id,
                "number": found.number,
                "bank": found.bank,
                "currency": found.currency,
                "complete_until": found.complete_until.isoformat(),
            }
            for found in service.accounts.values()
        ]

    @app.get("/accounts/{account_id}/statements")
    def statements(
        account_id: str,
        start: date,
        end: date,
        form: Annotated[Literal["ofx", "camt053", "pdf"], Query(alias="format")] = "ofx",
    ) -> Response:
        """The statement of some days."""
        found = service.account(account_id)
        if end > found.complete_until or end < start:
            raise HTTPException(404, f"There is no statement of {start} to {end} yet")
        of = currency(found.currency)
        statement = found.statement(start, end, service.manners)
        writers: dict[str, Callable[[], bytes]] = {
            "ofx": lambda: write_ofx(statement, of, found.bank_id),
            "camt053": lambda: write_camt053(statement, of),
            "pdf": lambda: statement_pdf(statement, of),
        }
        return Response(writers[form](), media_type=MEDIA[form])

    @app.get("/accounts/{account_id}/lines")
    def lines(account_id: str, since: str = "") -> dict[str, Any]:
        """Lines booked after the mark, oldest first, and the mark to ask with next time."""
        found = service.account(account_id)
        place = next((n + 1 for n, x in enumerate(found.lines) if str(x.id) == since), 0)
        of = currency(found.currency)
        new = [x for x in found.lines[place:] if x.date not in service.manners.leave_out]
        if service.manners.repeat and new:
            new.append(new[-1])
        rows = [
            {
                "id": str(x.id),
                "date": x.date.isoformat(),
                "amount": plain(x.amount, of),
                "reference": x.reference,
                "description": x.description,
                "kind": x.kind.value,
            }
            for x in new
        ]
        return {"mark": str(found.lines[-1].id) if found.lines else since, "lines": rows}

    @app.get("/accounts/{account_id}/checks/{number}")
    def check(account_id: str, number: str) -> Response:
        """The image of a check."""
        found = service.account(account_id)
        about = found.checks.get(number.lstrip("0"))
        line = next((x for x in found.lines if x.reference.lstrip("0") == number.lstrip("0")), None)
        if about is None or line is None:
            raise HTTPException(404, "There is no image of this check")
        amount = f"{plain(abs(line.amount), currency(found.currency))}"
        day = f"{line.date:%b %d, %Y}"
        return Response(
            check_image(found.bank, number.lstrip("0"), day, about["payee"], amount, about["memo"]),
            media_type="image/png",
        )

    @app.post("/behaviour")
    def behave(manners: Behaviour) -> Behaviour:
        """Tell the bank how to misbehave from now on."""
        service.manners = manners
        return manners

    return app
