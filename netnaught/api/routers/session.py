"""Signing in and out, and who is signed in."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel, StringConstraints

from netnaught.api.deps import COOKIE, Ctx, Db, Text, Token
from netnaught.services import setup, sign_in
from netnaught.services.access import Role, rights_of

router = APIRouter(prefix="/api", tags=["session"])


class SignIn(BaseModel):
    """What a person types to sign in."""

    email: Text
    password: Annotated[str, StringConstraints(max_length=200)]


class MyCompany(BaseModel):
    """A company of the person signed in."""

    id: int
    name: str
    currency: str
    locale: str
    role: Role
    rights: list[str]
    review: bool


class Me(BaseModel):
    """The person signed in. `csrf_token` is repeated in the X-CSRF-Token header of changing requests."""

    name: str
    email: str
    csrf_token: str
    companies: list[MyCompany]


def _me(ctx: Ctx, csrf_token: str) -> Me:
    companies = [
        MyCompany(
            id=m.company.id,
            name=m.company.name,
            currency=m.company.currency,
            locale=m.company.locale.replace("_", "-"),
            role=Role(m.role),
            rights=sorted(rights_of(m)),
            review=m.company.review,
        )
        for m in setup.my_companies(ctx)
    ]
    return Me(name=ctx.user.name, email=ctx.user.email, csrf_token=csrf_token, companies=companies)


@router.post("/sign-in", operation_id="signIn")
def post_sign_in(body: SignIn, request: Request, response: Response, db: Db) -> Me:
    """Check address and password, open a session, set its cookie."""
    now = datetime.now(UTC)
    address = request.client.host if request.client else ""
    found = sign_in.sign_in(db, body.email, body.password, address, now)
    response.set_cookie(
        COOKIE,
        found.token,
        max_age=int(sign_in.SESSION_LASTS.total_seconds()),
        httponly=True,
        samesite="strict",
        secure=request.url.scheme == "https",
        path="/",
    )
    ctx, csrf_token = sign_in.session_of(db, found.token, now)
    return _me(ctx, csrf_token)


@router.get("/me", operation_id="me")
def get_me(ctx: Ctx, db: Db, token: Token = None) -> Me:
    """Who is signed in, and in which companies."""
    _, csrf_token = sign_in.session_of(db, token, ctx.now)
    return _me(ctx, csrf_token)


@router.post("/sign-out", operation_id="signOut", status_code=204)
def post_sign_out(ctx: Ctx, response: Response, token: Token = None) -> None:
    """End the session."""
    sign_in.sign_out(ctx, token or "")
    response.delete_cookie(COOKIE, path="/")
