"""Users, their sessions, and attempts to sign in."""

from __future__ import annotations

from dataclasses import dataclass

from netnaught.store.database import Connection, Row


@dataclass(frozen=True, slots=True)
class User:
    """A person who signs in."""

    id: int
    email: str
    name: str
    password_hash: str


@dataclass(frozen=True, slots=True)
class Session:
    """A signed-in browser. The token itself is never stored, only its hash."""

    user: User
    csrf_token: str
    expires_at: str


def _user(row: Row) -> User:
    return User(row["id"], row["email"], row["name"], row["password_hash"])


def add_user(db: Connection, email: str, name: str, password_hash: str, now: str) -> User:
    """A new user; sqlite3.IntegrityError when the address is taken."""
    sql = "INSERT INTO user (email, name, password_hash, created_at) VALUES (?, ?, ?, ?) RETURNING *"
    return _user(db.execute(sql, (email, name, password_hash, now)).fetchone())


def user_by_email(db: Connection, email: str) -> User | None:
    """The user who signs in with that address, in any case."""
    row = db.execute("SELECT * FROM user WHERE email = ?", (email,)).fetchone()
    return _user(row) if row else None


def user(db: Connection, user_id: int) -> User | None:
    """One person."""
    row = db.execute("SELECT * FROM user WHERE id = ?", (user_id,)).fetchone()
    return _user(row) if row else None


def add_session(db: Connection, token_sha256: str, user_id: int, csrf_token: str, now: str, expires_at: str) -> None:
    """Remember a sign-in."""
    db.execute("INSERT INTO session VALUES (?, ?, ?, ?, ?)", (token_sha256, user_id, csrf_token, now, expires_at))


def session(db: Connection, token_sha256: str) -> Session | None:
    """The session of a token, expired or not."""
    row = db.execute(
        "SELECT u.*, s.csrf_token, s.expires_at FROM session s JOIN user u ON u.id = s.user_id WHERE s.token_sha256 = ?",
        (token_sha256,),
    ).fetchone()
    return Session(_user(row), row["csrf_token"], row["expires_at"]) if row else None


def end_session(db: Connection, token_sha256: str) -> None:
    """Forget a sign-in."""
    db.execute("DELETE FROM session WHERE token_sha256 = ?", (token_sha256,))


def end_old_sessions(db: Connection, now: str) -> None:
    """Forget sign-ins that have expired."""
    db.execute("DELETE FROM session WHERE expires_at <= ?", (now,))


def note_failed_attempt(db: Connection, email: str, address: str, now: str) -> None:
    """Count a failed attempt to sign in."""
    db.execute("INSERT INTO sign_in_attempt (email, address, at) VALUES (?, ?, ?)", (email, address, now))


def failed_attempts(db: Connection, email: str, address: str, since: str) -> tuple[int, int]:
    """Failed attempts since a time: (for the e-mail address, from the network address)."""
    by_email = db.execute("SELECT count(*) FROM sign_in_attempt WHERE email = ? AND at > ?", (email, since))
    by_address = db.execute("SELECT count(*) FROM sign_in_attempt WHERE address = ? AND at > ?", (address, since))
    return by_email.fetchone()[0], by_address.fetchone()[0]


def forget_attempts(db: Connection, email: str) -> None:
    """A successful sign-in clears the count of its e-mail address."""
    db.execute("DELETE FROM sign_in_attempt WHERE email = ?", (email,))
