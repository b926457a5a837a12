"""What every route depends on: a connection of its own, the person signed in, safe values."""

from __future__ import annotations

import hmac
from collections.abc import Iterator
from dataclasses import replace
from datetime import UTC, date, datetime
from typing import Annotated

from fastapi import Cookie, Depends, Path, Request
from pydantic import AfterValidator, Field, StringConstraints

from netnaught.core.money import LARGEST
from netnaught.services.access import Context
from netnaught.services.errors import Forbidden
from netnaught.services.sign_in import session_of
from netnaught.store.database import Connection, connect

COOKIE = "netnaught_session"
_SAFE = frozenset({"GET", "HEAD", "OPTIONS"})


def _clean(text: str) -> str:
    """Text that can be stored and shown: no lone surrogates, no control characters."""
    if any(0xD800 <= ord(char) <= 0xDFFF or ord(char) < 32 or ord(char) == 127 for char in text):
        raise ValueError("holds characters that are no text")
    return text.strip()


Id = Annotated[int, Path(ge=1, le=2**53)]
ItemId = Annotated[int, Field(ge=1, le=2**53)]
Amount = Annotated[int, Field(ge=-LARGEST, le=LARGEST, description="minor units, signed, positive = money in")]
Text = Annotated[str, StringConstraints(max_length=300), AfterValidator(_clean)]
Day = Annotated[date, Field(description="ISO 8601 day")]


def connection(request: Request) -> Iterator[Connection]:
    """One connection per request."""
    db = connect(request.app.state.database)
    try:
        yield db
    finally:
        db.close()


Db = Annotated[Connection, Depends(connection)]
Token = Annotated[str | None, Cookie(alias=COOKIE, include_in_schema=False)]


def context(request: Request, db: Db, token: Token = None) -> Context:
    """The person signed in; requests that change something must repeat the session's CSRF token."""
    ctx, csrf_token = session_of(db, token, datetime.now(UTC))
    ctx = replace(ctx, address=request.client.host if request.client else "")
    if request.method not in _SAFE:
        given = request.headers.get("x-csrf-token", "")
        if not hmac.compare_digest(given.encode(), csrf_token.encode()):
            raise Forbidden("The request does not come from this application's own pages. Nothing was changed.")
    return ctx


Ctx = Annotated[Context, Depends(context)]


def altering(ctx: Context, reason: str) -> Context:
    """The same request with the reason given for altering what is sealed or locked."""
    return replace(ctx, reason=reason.strip())
