"""Signing in and out: argon2 hashes, sessions kept by the server, throttling of failures."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import cache

from pwdlib import PasswordHash

from netnaught.services.access import Context
from netnaught.services.errors import BadInput, NotSignedIn, TooManyAttempts
from netnaught.store import audit, users
from netnaught.store.database import Connection, atomic
from netnaught.store.users import User

SESSION_LASTS = timedelta(hours=12)
THROTTLE_WINDOW = timedelta(minutes=15)
ATTEMPTS_PER_EMAIL = 5
ATTEMPTS_PER_ADDRESS = 30
SHORTEST_PASSWORD = 10


@dataclass(frozen=True, slots=True)
class SignedIn:
    """What a browser gets: the session token for its cookie, the token that its requests repeat."""

    user: User
    token: str
    csrf_token: str


@cache
def _hasher() -> PasswordHash:
    return PasswordHash.recommended()


@cache
def _decoy() -> str:
    """A hash to check against when the address is unknown, so that both cases take as long."""
    return _hasher().hash(secrets.token_hex(16))


def hash_password(password: str) -> str:
    """The argon2 hash of a password; BadInput when it is too short."""
    if len(password) < SHORTEST_PASSWORD:
        raise BadInput(f"A password has at least {SHORTEST_PASSWORD} characters.", field="password")
    return _hasher().hash(password)


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def _stamp(when: datetime) -> str:
    return when.astimezone(UTC).isoformat(timespec="seconds").replace("+00:00", "Z")


def sign_in(db: Connection, email: str, password: str, address: str, now: datetime) -> SignedIn:
    """Check the password and open a session.

    NotSignedIn: address or password wrong (which of them is not said). TooManyAttempts:
    too many failures for this address, or from this place, within a quarter of an hour.
    """
    email = email.strip()
    by_email, by_address = users.failed_attempts(db, email, address, _stamp(now - THROTTLE_WINDOW))
    if by_email >= ATTEMPTS_PER_EMAIL or by_address >= ATTEMPTS_PER_ADDRESS:
        seconds = int(THROTTLE_WINDOW.total_seconds())
        raise TooManyAttempts("Too many failed attempts. Wait a quarter of an hour, then try again.", seconds)
    user = users.user_by_email(db, email)
    right = _hasher().verify(password, user.password_hash if user else _decoy())
    if user is None or not right:
        with atomic(db):
            users.note_failed_attempt(db, email, address, _stamp(now))
            audit.append(
                db,
                company_id=None,
                user_id=user.id if user else None,
                at=_stamp(now),
                what="sign-in failed",
                entity="user",
                entity_id=user.id if user else None,
                after={"from": address, "email": email},
            )
        raise NotSignedIn("E-mail address or password is wrong.")
    token, csrf_token = secrets.token_urlsafe(32), secrets.token_urlsafe(32)
    with atomic(db):
        users.end_old_sessions(db, _stamp(now))
        users.forget_attempts(db, email)
        users.add_session(db, _digest(token), user.id, csrf_token, _stamp(now), _stamp(now + SESSION_LASTS))
        audit.append(
            db,
            company_id=None,
            user_id=user.id,
            at=_stamp(now),
            what="signed in",
            entity="user",
            entity_id=user.id,
            after={"from": address},
        )
    return SignedIn(user, token, csrf_token)


def session_of(db: Connection, token: str | None, now: datetime) -> tuple[Context, str]:
    """The context of a request and its CSRF token; NotSignedIn when there is none or it has expired."""
    found = users.session(db, _digest(token)) if token else None
    if found is None:
        raise NotSignedIn("Please sign in.")
    if found.expires_at <= _stamp(now):
        raise NotSignedIn("Your session has expired. Sign in again; everything you did is kept.")
    return Context(db, found.user, now), found.csrf_token


def sign_out(ctx: Context, token: str) -> None:
    """End the session on the server too."""
    with atomic(ctx.db):
        users.end_session(ctx.db, _digest(token))
